import { type Explanation, routes } from '@jaunty-sparrow/contract'
import { explain, type Message, messageOfLine } from '@jaunty-sparrow/core'
import type { RefusalRecorder } from '../arrivals/recorder.ts'
import { mayPublish, mqttMessage } from '../doors/mqttMessage.ts'
import { ProblemError } from '../doors/problemResponse.ts'
import type { SerialDoor } from '../doors/serialDoor.ts'
import type { DeviceRegistry, RegisteredDevice } from '../ingest/deviceRegistry.ts'
import { claimedBy, ownedRecords, type Sender, senderOf } from '../ingest/ownedRecords.ts'
import type { MessageStore } from '../store/messages.ts'
import type { Binder } from './binder.ts'
import { knownDevice } from './knownDevice.ts'

/** Of a long backlog the first fields tell the story. */
const mostFieldsListed = 200
const usualPage = 200

interface ArrivalParts {
  readonly binder: Binder
  readonly messages: MessageStore
  readonly registry: DeviceRegistry
  readonly recorder: RefusalRecorder
  readonly serial: SerialDoor
  readonly now: () => number
  readonly mqttPort: number | undefined
  readonly coapPort: number | undefined
}

/** What came in, what became of it, and what would become of something else. */
export function bindArrivals(parts: ArrivalParts): void {
  const { binder, messages, registry, recorder, serial, now, mqttPort, coapPort } = parts
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
    const device = arrival.deviceId === null ? undefined : registry.byId(arrival.deviceId)
    const sender = device && senderOf(registry, device, arrival)
    return {
      arrival,
      body: body.toString('base64'),
      explanation: sender ? explainMessage(registry, sender, { ...arrival, body }, arrival.receivedAt) : null,
    }
  })

  binder.bind(routes.tryMessage, async ({ body: { address, door, mediaType, tail, topic, text } }) => {
    const key = knownDevice(registry, address)
    const body = Buffer.from(text)
    if (door === 'mqtt') return explainPublished(registry, key, topic, body, now())
    const line = door === 'serial' ? messageOfLine(body, serial.lineOf(key.id)?.csvHeader ?? null) : undefined
    return explainMessage(registry, { key, target: undefined }, line ?? { mediaType, tail, body }, now())
  })
}

/** What would become of something that is published: whose it is depends on the topic. */
function explainPublished(
  registry: DeviceRegistry,
  key: RegisteredDevice,
  topic: string,
  body: Buffer,
  receivedAt: number,
): Explanation {
  const nothing = (failure: string): Explanation => ({ failure, fields: [], fieldsTotal: 0 })
  if (!mayPublish(key, topic))
    return nothing(`"${key.address}" may publish below sparrow/${key.address}/ only, not to ${topic}.`)
  const message = mqttMessage(key.address, topic, body, receivedAt)
  if (!message) return nothing(`${topic} is for others who listen; readings go to sparrow/${key.address}/in.`)
  if (message.topic === '') return explainMessage(registry, { key, target: undefined }, message, receivedAt)
  const claimed = claimedBy(registry, key, message)
  return claimed
    ? explainMessage(registry, claimed.sender, claimed.message, receivedAt)
    : nothing(`It would be kept as unclaimed: nobody has claimed ${topic} yet.`)
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
