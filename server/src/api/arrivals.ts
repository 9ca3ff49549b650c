import { type Explanation, routes } from '@jaunty-sparrow/contract'
import { decode, explain, isFailure, type Message, mediaTypes } from '@jaunty-sparrow/core'
import { ProblemError } from '../doors/problemResponse.ts'
import type { DeviceRegistry, RegisteredDevice } from '../ingest/deviceRegistry.ts'
import type { MessageStore } from '../store/messages.ts'
import type { Binder } from './binder.ts'

/** Of a long backlog the first fields tell the story. */
const mostFieldsListed = 200
const usualPage = 200

interface ArrivalParts {
  readonly binder: Binder
  readonly messages: MessageStore
  readonly registry: DeviceRegistry
  readonly now: () => number
  readonly mqttPort: number | undefined
}

/** What came in, what became of it, and what would become of something else. */
export function bindArrivals({ binder, messages, registry, now, mqttPort }: ArrivalParts): void {
  binder.bind(routes.getDoors, async () => ({ mqttPort: mqttPort ?? null }))

  binder.bind(routes.listArrivals, ({ query: { limit = usualPage, deviceId, ...filter } }) => {
    const devices = deviceId === undefined ? [0, ...Array.from(registry.all(), ({ id }) => id)] : [deviceId]
    return messages.list(devices, filter, limit)
  })

  binder.bind(routes.getArrival, async ({ params, query }) => {
    const found = await messages.find(query.deviceId ?? 0, params.arrivalId)
    if (!found) throw new ProblemError('not-found', 'This message is not kept any more.')
    const { arrival, body } = found
    const device = registry.get(arrival.sender)
    const recognized = device && device.id === arrival.deviceId
    return {
      arrival,
      body: body.toString('base64'),
      explanation: recognized ? explainMessage(device, { ...arrival, body }, arrival.receivedAt) : null,
    }
  })

  binder.bind(routes.tryMessage, async ({ body: { address, mediaType, tail, text } }) => {
    const device = registry.get(address)
    if (!device) throw new ProblemError('not-found', `No device has the address "${address}".`)
    return explainMessage(device, { mediaType, tail, body: Buffer.from(text) }, now())
  })
}

function explainMessage({ signals }: RegisteredDevice, message: Message, receivedAt: number): Explanation {
  const records = decode(message, receivedAt)
  const failure =
    records === undefined
      ? `The content type "${message.mediaType}" is not understood; send ${mediaTypes.join(' or ')}.`
      : isFailure(records)
        ? records.failure
        : null
  if (records === undefined || isFailure(records)) return { failure, fields: [], fieldsTotal: 0 }
  const fields = explain(records, signals, receivedAt)
  return {
    failure: fields.length === 0 ? 'The message holds no fields.' : null,
    fieldsTotal: fields.length,
    fields: fields.slice(0, mostFieldsListed).map(({ record, pointer, raw, target, outcome }) => {
      const { id, name, unit, kind, state } = target?.definition ?? {}
      const known = id !== undefined && name !== undefined && kind && state
      return {
        record,
        pointer,
        raw,
        signal: known ? { definitionId: id, name, unit: unit ?? null, kind, state } : null,
        reading: 'problem' in outcome ? null : outcome,
        problem: 'problem' in outcome ? outcome.problem : null,
      }
    }),
  }
}
