import { setImmediate } from 'node:timers/promises'
import type { AlarmTrial } from '@jaunty-sparrow/contract'
import {
  alarmsProblem,
  levelOf,
  type Occurrence,
  type PastReading,
  RecentSwing,
  rehearseLevel,
  ruleOfOccasion,
  ruleOfSuppression,
  silencesOf,
  unsuppressed,
} from '@jaunty-sparrow/core/alarm'
import { lateAfter, silentFrom } from '@jaunty-sparrow/core/presence'
import { type Rule, rehearse } from '@jaunty-sparrow/core/rule'
import {
  type Alarm,
  type DeviceSignal,
  type Limits,
  type Occasion,
  untoldAlarm,
} from '@jaunty-sparrow/core/signal'
import { wallClock } from '@jaunty-sparrow/core/time'
import max from 'lodash-es/max.js'
import sumBy from 'lodash-es/sumBy.js'
import type pg from 'pg'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { countsThen, pastOf } from '../rules/pastOfSignals.ts'
import type { RuleInputs } from '../rules/ruleInputs.ts'
import { type StatedAlarm, stateOfSignal } from './statedAlarms.ts'

const mostStretches = 2000
/** What is over sooner was no reason to come, ms. */
const fleeting = 60_000

/** What is tried, and over which span, epoch ms. */
interface Tried {
  readonly occasion: Occasion
  readonly unless: Alarm['unless']
  readonly limits: Limits | null
  readonly from: number
  readonly to: number
}

interface TryParts {
  readonly pool: pg.Pool
  readonly registry: DeviceRegistry
  readonly inputs: RuleInputs
}

const nothing = {
  count: 0,
  seconds: 0,
  longest: 0,
  fleeting: 0,
  hours: Array.from({ length: 24 }, () => 0),
  suppressed: 0,
  stretches: [],
}

/** Runs an alarm over the past: when it would have been raised, and for how long. */
export async function tryAlarm(
  parts: TryParts,
  device: RegisteredDevice,
  signal: DeviceSignal,
  { occasion, unless, limits, from, to }: Tried,
): Promise<AlarmTrial> {
  const alarm: Alarm = { ...untoldAlarm, key: 'tried', priority: 'minor', occasion, unless }
  const problem = alarmsProblem([alarm], { ...signal.definition, limits })
  if (problem !== undefined) return { problem, ...nothing }
  const stated = { ...stateOfSignal('', alarm, device, signal), limits }
  const all = await occurrencesOf(parts, stated, from, to)
  const left = unless ? unsuppressed(all, await suppressedIn(parts, stated, from, to)) : all
  const zone = await zoneOf(parts.pool, device.siteId)
  const hours = [...nothing.hours]
  for (const each of left) {
    const hour = Number(wallClock(each.from, zone).slice(11, 13))
    hours[hour] = (hours[hour] ?? 0) + 1
  }
  const length = (each: Occurrence) => (each.to - each.from) / 1000
  return {
    problem: null,
    count: left.length,
    seconds: sumBy(left, length),
    longest: max(left.map(length)) ?? 0,
    fleeting: left.filter((each) => each.to < to && each.to - each.from < fleeting).length,
    hours,
    suppressed: sumBy(all, length) - sumBy(left, length),
    stretches: left.slice(-mostStretches),
  }
}

async function occurrencesOf(
  parts: TryParts,
  { alarm: { occasion }, device, signal, limits, inputs: over }: StatedAlarm,
  from: number,
  to: number,
): Promise<readonly Occurrence[]> {
  if (!device || !signal) return []
  if (occasion.by === 'formula')
    return over ? stretchesOf(parts, ruleOfOccasion(occasion, over), from, to) : missing()
  const past = (await pastOf(parts, [signal.signal], from, to)).get(signal.signal)?.readings ?? []
  if (occasion.by === 'silence') {
    const cadence = signal.definition.cadence ?? parts.registry.cadence(device)?.cadence ?? null
    const longest = occasion.from === 'late' ? lateAfter(cadence) : silentFrom(0, cadence)
    return longest === null ? [] : silencesOf(past, longest + occasion.atLeast * 1000, from, to)
  }
  const level = levelOf(occasion, limits, 0)
  const readings = occasion.by === 'rate' ? swings(past, occasion.over) : past
  const counts = countsThen(parts, signal.signal, past)
  return level ? rehearseLevel(level, readings, counts, from, to) : []
}

function* swings(readings: readonly PastReading[], over: number): Generator<PastReading> {
  const swing = new RecentSwing(over)
  for (const { at, value } of readings) yield { at, value: value === null ? null : swing.add(at, value) }
}

async function suppressedIn(
  parts: TryParts,
  { alarm: { unless }, unlessInputs }: StatedAlarm,
  from: number,
  to: number,
): Promise<readonly Occurrence[]> {
  if (!unless) return []
  return unlessInputs ? stretchesOf(parts, ruleOfSuppression(unless, unlessInputs), from, to) : missing()
}

/** When a rule would have acted. */
async function stretchesOf(parts: TryParts, rule: Rule, from: number, to: number): Promise<Occurrence[]> {
  const signals = rule.inputs.map(({ signal }) => signal)
  const histories = await pastOf(parts, signals, from, to)
  const countsFor = (signal: number) => countsThen(parts, signal, histories.get(signal)?.readings ?? [])
  const run = rehearse(rule, { zone: 'UTC', place: null, countsFor }, [...histories.values()], from, to)
  let step = run.next()
  while (!step.done) {
    await setImmediate()
    step = run.next()
  }
  return step.value.stretches.flatMap((each) =>
    each.isActing ? [{ from: each.from, to: each.to, worst: null }] : [],
  )
}

function missing(): never {
  throw new ProblemError('invalid', 'A signal that its formula is over is not there: pick another one.')
}

async function zoneOf(pool: pg.Pool, siteId: number): Promise<string> {
  const { rows } = await pool.query<{ time_zone: string }>(
    `select time_zone from site
     where id = $1`,
    [siteId],
  )
  return rows[0]?.time_zone ?? 'UTC'
}
