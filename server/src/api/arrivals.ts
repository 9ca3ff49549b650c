import { type Explanation, routes } from '@jaunty-sparrow/contract'
import { explain, type Message } from '@jaunty-sparrow/core'
import type { RefusalRecorder } from '../arrivals/recorder.ts'
import { ProblemError } from '../doors/problemResponse.ts'
import type { DeviceRegistry } from '../ingest/deviceRegistry.ts'
import { ownedRecords, type Sender } from '../ingest/ownedRecords.ts'
import type { MessageStore } from '../store/messages.ts'
import type { Binder } from './binder.ts'

/** Of a long backlog the first fields tell the story. */
const mostFieldsListed = 200
const usualPage = 200

interface ArrivalParts {
  readonly binder: Binder
  readonly messages: MessageStore
  readonly registry: DeviceRegistry
  readonly recorder: RefusalRecorder
  readonly now: () => number
  readonly mqttPort: number | undefined
  readonly coapPort: number | undefined
}

/** What came in, what became of it, and what would become of something else. */
export function bindArrivals({
  binder,
  messages,
  registry,
  recorder,
  now,
  mqttPort,
  coapPort,
}: ArrivalParts): void {
  binder.bind(routes.getDoors, async () => ({
    mqttPort: mqttPort ?? null,
    coapPort: coapPort ?? null,
  }))

  binder.bind(routes.listArrivals, async ({ query: { limit = usualPage, deviceId, ...filter } }) => {
    // What was told to the pages before this one looked must be in the list.
    await recorder.flush()
    const devices = deviceId === undefined ? [0, ...Array.from(registry.all(), ({ id }) => id)] : [deviceId]
    return messages.list(devices, filter, limit)
  })

  binder.bind(routes.getArrival, async ({ params, query }) => {
    const found = await messages.find(query.deviceId ?? 0, params.arrivalId)
    if (!found) throw new ProblemError('not-found', 'This message is not kept any more.')
    const { arrival, body } = found
    const key = registry.get(arrival.sender)
    const device = arrival.deviceId === null ? undefined : registry.byId(arrival.deviceId)
    const target = arrival.topic === '' ? undefined : device
    const recognized = device && key && arrival.outcome !== 'unclaimed'
    return {
      arrival,
      body: body.toString('base64'),
      explanation: recognized
        ? explainMessage(registry, { key, target }, { ...arrival, body }, arrival.receivedAt)
        : null,
    }
  })

  binder.bind(routes.tryMessage, async ({ body: { address, mediaType, tail, text } }) => {
    const key = registry.get(address)
    if (!key) throw new ProblemError('not-found', `No device has the address "${address}".`)
    const message = { mediaType, tail, body: Buffer.from(text) }
    return explainMessage(registry, { key, target: undefined }, message, now())
  })
}

function explainMessage(
  registry: DeviceRegistry,
  sender: Sender,
  message: Message,
  receivedAt: number,
): Explanation {
  const owned = ownedRecords(registry, sender, message, receivedAt)
  if ('problem' in owned) return { failure: owned.detail, fields: [], fieldsTotal: 0 }
  const fields = explain(owned.records, owned.signalsOf, receivedAt)
  return {
    failure: null,
    fieldsTotal: fields.length,
    fields: fields.slice(0, mostFieldsListed).map(({ record, pointer, raw, target, outcome }) => {
      const { id, name, unit, kind, state } = target?.definition ?? {}
      const known = id !== undefined && name !== undefined && kind && state
      return {
        record,
        address: owned.owners[record]?.address ?? '',
        pointer,
        raw,
        signal: known ? { definitionId: id, name, unit: unit ?? null, kind, state } : null,
        reading: 'problem' in outcome ? null : outcome,
        problem: 'problem' in outcome ? outcome.problem : null,
      }
    }),
  }
}
