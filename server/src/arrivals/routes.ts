import { type Explanation, routes } from '@jaunty-sparrow/contract'
import { mayAt, mayEverywhere } from '@jaunty-sparrow/core/access'
import { believed, explain } from '@jaunty-sparrow/core/interpret'
import { type Message, messageOfLine, tailOf } from '@jaunty-sparrow/core/message'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { knownDevice } from '../devices/knownDevice.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import { mayPublish, mqttMessage } from '../doors/mqttMessage.ts'
import type { SerialDoor } from '../doors/serialDoor.ts'
import type { Binder } from '../http/binder.ts'
import { demand } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Decoding } from '../ingest/decoding.ts'
import { claimedBy, ownedRecords, type Sender, senderOf } from '../ingest/ownedRecords.ts'
import type { MessageStore } from '../messages/messageStore.ts'
import type { RefusalRecorder } from '../messages/recorder.ts'

/** Of a long backlog the first fields tell the story. */
const mostFieldsListed = 200
const usualPage = 200

export interface ArrivalParts {
  readonly decoding: Decoding
  readonly binder: Binder
  readonly messages: MessageStore
  readonly registry: DeviceRegistry
  readonly recorder: RefusalRecorder
  readonly serial: SerialDoor
  readonly now: () => number
}

const noLonger = 'This message is not kept any more.'

type ExplainParts = Pick<ArrivalParts, 'registry' | 'decoding'>

/** What came in, what became of it, and what would become of something else. */
export function bindArrivals(parts: ArrivalParts): void {
  const { binder, messages, registry, recorder, serial, now } = parts
  binder.bind(routes.listArrivals, async ({ caller, query: { limit = usualPage, deviceId, ...filter } }) => {
    // What was told to the pages before this one looked must be in the list.
    await recorder.flush()
    const seen = [...registry.all()].filter(({ siteId }) => mayAt(caller.access, 'viewer', siteId))
    // What nobody has claimed belongs to no one site.
    const strangers = mayEverywhere(caller.access, 'owner') ? [0] : []
    const all = [...strangers, ...seen.map(({ id }) => id)]
    const devices = deviceId === undefined ? all : all.filter((id) => id === deviceId)
    return messages.list(devices, filter, limit)
  })

  binder.bind(routes.getArrival, async ({ caller, params, query }) => {
    if (query.deviceId !== undefined && query.deviceId !== 0)
      demand(caller, 'viewer', registry.byId(query.deviceId)?.siteId, noLonger)
    else if (!mayEverywhere(caller.access, 'owner')) throw new ProblemError('not-found', noLonger)
    const found = await messages.find(query.deviceId ?? 0, params.arrivalId)
    if (!found) throw new ProblemError('not-found', noLonger)
    const { arrival, body } = found
    const device = arrival.deviceId === null ? undefined : registry.byId(arrival.deviceId)
    const sender = device && senderOf(registry, device, arrival)
    return {
      arrival,
      body: body.toString('base64'),
      explanation: sender
        ? await explainMessage(parts, sender, { ...arrival, body }, arrival.receivedAt, arrival.byHand)
        : null,
    }
  })

  binder.bind(
    routes.tryMessage,
    async ({ caller, body: { address, door, mediaType, tail, topic, text } }) => {
      demand(caller, 'viewer', registry.get(address)?.siteId, `No device has the address "${address}".`)
      const key = knownDevice(registry, address)
      const body = Buffer.from(text)
      if (door === 'mqtt') return explainPublished(parts, key, topic, body, now())
      const line =
        door === 'serial' ? messageOfLine(body, serial.lineOf(key.id)?.csvHeader ?? null) : undefined
      const sent = line ?? { mediaType, tail: tailOf(tail.split('/')), body }
      return explainMessage(parts, { key, target: undefined }, sent, now())
    },
  )
}

/** What would become of something that is published: whose it is depends on the topic. */
async function explainPublished(
  parts: ExplainParts,
  key: RegisteredDevice,
  topic: string,
  body: Buffer,
  receivedAt: number,
): Promise<Explanation> {
  const { registry } = parts
  const nothing = (failure: string): Explanation => ({ failure, fields: [], fieldsTotal: 0 })
  if (!mayPublish(key, topic))
    return nothing(`"${key.address}" may publish below sparrow/${key.address}/ only, not to ${topic}.`)
  const message = mqttMessage(key.address, topic, body, receivedAt)
  if (!message) return nothing(`${topic} is for others who listen; readings go to sparrow/${key.address}/in.`)
  if (message.topic === '') return explainMessage(parts, { key, target: undefined }, message, receivedAt)
  const claimed = claimedBy(registry, key, message)
  return claimed
    ? explainMessage(parts, claimed.sender, claimed.message, receivedAt)
    : nothing(`It would be kept as unclaimed: nobody has claimed ${topic} yet.`)
}

async function explainMessage(
  { registry, decoding }: ExplainParts,
  sender: Sender,
  message: Message,
  receivedAt: number,
  byHand = false,
): Promise<Explanation> {
  const owned = ownedRecords(registry, sender, await decoding.read(message, receivedAt))
  if ('problem' in owned) return { failure: owned.detail, fields: [], fieldsTotal: 0 }
  const fields = explain(owned.records, owned.signalsOf, receivedAt, believed(receivedAt, byHand))
  return {
    failure: null,
    fieldsTotal: fields.length,
    fields: fields.slice(0, mostFieldsListed).map(({ record, pointer, raw, target, outcome }) => {
      const { id, name, unit, kind, state, choices = [] } = target?.definition ?? {}
      const known = id !== undefined && name !== undefined && kind && state
      const told = outcome === 'ignored' ? undefined : outcome
      return {
        record,
        address: owned.owners[record]?.address ?? '',
        pointer,
        raw,
        signal: known
          ? { definitionId: id, name, unit: unit ?? null, kind, state, choices: [...choices] }
          : null,
        reading: told && !('problem' in told) ? told : null,
        problem: told && 'problem' in told ? told.problem : null,
      }
    }),
  }
}
