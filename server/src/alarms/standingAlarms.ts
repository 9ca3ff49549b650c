import type { StandingAlarm } from '@jaunty-sparrow/contract'
import { atRest, stateOf } from '@jaunty-sparrow/core/alarm'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { StatedAlarm } from './statedAlarms.ts'
import type { WrittenAlarm } from './watchedAlarm.ts'

/** What an alarm is of, in words. */
export function subjectOf({ device, signal }: StatedAlarm): string {
  if (!device) return 'The server'
  if (!signal) return device.name
  const { definition, part } = signal
  return `${definition.name}${part === '' ? '' : ` ${part}`}, ${device.name}`
}

/** An alarm as it is told; what is not written yet is at rest. */
export function toldAlarm(stated: StatedAlarm, written: WrittenAlarm | undefined): StandingAlarm {
  const standing = written?.standing ?? atRest
  return {
    id: stated.id,
    siteId: stated.device?.siteId ?? null,
    deviceId: stated.device?.id ?? null,
    signalId: stated.signal?.signal ?? null,
    subject: subjectOf(stated),
    alarm: stated.alarm,
    state: stateOf(standing),
    isActive: standing.isActive,
    raisedAt: written?.raisedAt ?? null,
    returnedAt: written?.returnedAt ?? null,
    changedAt: written?.changedAt ?? null,
    value: written?.value ?? null,
    worst: written?.worst ?? null,
    limit: written?.limit ?? null,
    acknowledged: written?.acknowledged ?? null,
    shelf: standing.shelf,
    outOfService: standing.outOfService,
    causedBy: null,
  }
}

/** How soon somebody should look at it: what waits for a word first. */
const rank: Readonly<Record<StandingAlarm['state'], number>> = {
  unacknowledged: 0,
  returned: 1,
  acknowledged: 2,
  latched: 3,
  shelved: 4,
  suppressed: 5,
  'out-of-service': 6,
  normal: 7,
}

/** Those that wait for a word first, of them the newest. */
export const inOrder = (alarms: readonly StandingAlarm[]): StandingAlarm[] =>
  [...alarms].sort(
    (a, b) =>
      rank[a.state] - rank[b.state] || (b.raisedAt ?? 0) - (a.raisedAt ?? 0) || (a.id < b.id ? -1 : 1),
  )

/**
 * Finds which alarm explains which: the outer limit the inner one, and the silence of a gateway that of all it speaks for, as the
 * silence of a device that of each of its signals.
 */
export function withCauses(alarms: readonly StandingAlarm[], registry: DeviceRegistry): StandingAlarm[] {
  const active = alarms.filter(({ isActive, state }) => isActive && asks.has(state))
  const first = new Map<string, StandingAlarm>()
  const gateways = gatewaysOf(registry)
  const isSilent = new Set(active.flatMap((each) => (isOfDevice(each) ? (each.deviceId ?? []) : [])))
  /** What stands together, and how near each is to what it comes of: the nearest explains the others. */
  const together = ({ alarm: { occasion }, signalId, deviceId }: StandingAlarm): string | undefined => {
    if (occasion.by === 'limit')
      return `${signalId} ${occasion.limit === 'lowLow' || occasion.limit === 'low' ? 'low' : 'high'}`
    if (occasion.by !== 'silence' || deviceId === null) return undefined
    const through = gateways.get(deviceId)?.find((each) => isSilent.has(each))
    return `silence ${through ?? deviceId}`
  }
  const isNearer = (one: StandingAlarm, other: StandingAlarm) =>
    nearness(one) - nearness(other) ||
    (other.raisedAt ?? 0) - (one.raisedAt ?? 0) ||
    (one.id < other.id ? 1 : -1)
  for (const each of active) {
    const of = together(each)
    const there = of === undefined ? undefined : first.get(of)
    if (of !== undefined && (!there || isNearer(each, there) > 0)) first.set(of, each)
  }
  return alarms.map((each) => {
    const of = each.isActive && asks.has(each.state) ? together(each) : undefined
    const cause = of === undefined ? undefined : first.get(of)
    return cause && cause.id !== each.id ? { ...each, causedBy: cause.id } : each
  })
}

const asks = new Set<StandingAlarm['state']>(['unacknowledged', 'acknowledged'])
const isOfDevice = ({ signalId, alarm }: StandingAlarm) =>
  signalId === null && alarm.occasion.by === 'silence'

const nearness = (each: StandingAlarm): number => {
  const { occasion } = each.alarm
  const isOuter = occasion.by === 'limit' && (occasion.limit === 'lowLow' || occasion.limit === 'highHigh')
  return isOuter || isOfDevice(each) ? 1 : 0
}

/** The devices that speak for others, by those they speak for. */
function gatewaysOf(registry: DeviceRegistry): Map<number, number[]> {
  const gateways = new Map<number, number[]>()
  for (const { id, claims } of registry.all())
    for (const { device } of claims) {
      const spokenFor = device === null ? undefined : registry.get(device)?.id
      if (spokenFor === undefined) continue
      const there = gateways.get(spokenFor)
      if (there) there.push(id)
      else gateways.set(spokenFor, [id])
    }
  return gateways
}
