import { type ConversionTrial, routes } from '@jaunty-sparrow/contract'
import { compileFormula } from '@jaunty-sparrow/core/formula'
import { numberIn, surroundingsOf } from '@jaunty-sparrow/core/interpret'
import type { FieldRecord } from '@jaunty-sparrow/core/message'
import { type DeviceSignal, fieldOfPart } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Decoding } from '../ingest/decoding.ts'
import { ownedRecords, senderOf } from '../ingest/ownedRecords.ts'
import type { MessageStore } from '../messages/messageStore.ts'

/** So many messages tell what a formula does. */
const mostMessages = 12
/** Of a backlog the newest records. */
const mostMade = 24
const curvePoints = 97

export interface ConversionTrialParts {
  readonly binder: Binder
  readonly registry: DeviceRegistry
  readonly messages: MessageStore
  readonly decoding: Decoding
}

/** What was sent for a signal, with the message around it. */
interface Sent {
  readonly at: number
  readonly raw: number
  readonly record: FieldRecord
}

/** Shows what a formula makes of what a device sent, before it holds. */
export function bindConversionTrial(parts: ConversionTrialParts): void {
  const { binder, registry } = parts
  binder.bind(routes.tryConversion, async ({ params, body: { conversion } }): Promise<ConversionTrial> => {
    const found = registry.signal(params.signalId)
    const device = found && registry.get(found.address)
    if (!device) throw new ProblemError('not-found', 'There is no such signal.')
    const formula = compileFormula(conversion ?? 'x')
    const sent = await lastSent(parts, device, found.signal)
    if ('problem' in formula)
      return {
        problem: formula,
        made: sent.map(({ at, raw }) => ({ at, raw, value: null, problem: null })),
        curve: [],
      }
    const make = ({ raw, record }: Sent) =>
      formula.evaluate({ x: raw, ...surroundingsOf(record, device.signals, found.signal) })
    return {
      problem: null,
      made: sent.map((one) => {
        const outcome = make(one)
        const { at, raw } = one
        return 'value' in outcome
          ? { at, raw, value: outcome.value, problem: null }
          : { at, raw, value: null, problem: outcome.problem }
      }),
      curve: curveOf(sent, (raw, { record }) => {
        const outcome = make({ at: 0, raw, record })
        return 'value' in outcome ? outcome.value : null
      }),
    }
  })
}

async function lastSent(
  { registry, messages, decoding }: ConversionTrialParts,
  device: RegisteredDevice,
  signal: DeviceSignal,
): Promise<Sent[]> {
  const { part, definition } = signal
  const pointer = part === '' ? definition.field : fieldOfPart(definition.field, part)
  const sent: Sent[] = []
  for (const { id } of await messages.list([device.id], {}, mostMessages)) {
    const kept = await messages.find(device.id, id)
    const sender = kept && senderOf(registry, device, kept.arrival)
    if (!kept || !sender) continue
    const { receivedAt } = kept.arrival
    const owned = ownedRecords(
      registry,
      sender,
      await decoding.read({ ...kept.arrival, body: kept.body }, receivedAt),
    )
    if ('problem' in owned) continue
    for (const [index, record] of owned.records.entries()) {
      const raw = numberIn(record.fields.find((field) => field.pointer === pointer)?.value)
      if (raw !== undefined && owned.owners[index]?.id === device.id)
        sent.push({ at: receivedAt, raw, record })
    }
    if (sent.length >= mostMade) break
  }
  return sent.slice(0, mostMade)
}

/** What it makes around what was sent, as far again on both sides. */
function curveOf(
  sent: readonly Sent[],
  make: (raw: number, newest: Sent) => number | null,
): [number, number | null][] {
  const [newest] = sent
  if (!newest) return []
  const all = sent.map(({ raw }) => raw)
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const room = Math.max(high - low, Math.abs(high) * 0.5, Math.abs(low) * 0.5, 1)
  const from = low >= 0 ? Math.max(0, low - room) : low - room
  const step = (high + room - from) / (curvePoints - 1)
  return Array.from({ length: curvePoints }, (_, place) => {
    const raw = from + place * step
    return [raw, make(raw, newest)]
  })
}
