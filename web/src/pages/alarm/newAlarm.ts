import type { Signal } from '@jaunty-sparrow/contract'
import {
  type Alarm,
  type LimitState,
  type Limits,
  type Occasion,
  untoldAlarm,
} from '@jaunty-sparrow/core/signal'

/** What is changed together: an alarm, and the limits of its signal. */
export interface AlarmDraft {
  readonly alarm: Alarm
  readonly limits: Limits | null
}

/** The occasions that can be picked: limits by their side, others by what they are. */
export const occasionChoices = {
  high: 'too high',
  highHigh: 'far too high',
  low: 'too low',
  lowLow: 'far too low',
  rate: 'changes too fast',
  state: 'in a state for too long',
  silence: 'says nothing',
  fault: 'its sensor is at fault',
  formula: 'something else, over several signals',
} as const
export type OccasionChoice = keyof typeof occasionChoices

const ofNumbers: readonly OccasionChoice[] = [
  'high',
  'highHigh',
  'low',
  'lowLow',
  'rate',
  'silence',
  'fault',
  'formula',
]
const ofStates: readonly OccasionChoice[] = ['state', 'silence', 'fault', 'formula']

/** What an alarm of a signal can be about. */
export const choicesFor = ({ kind }: Pick<Signal, 'kind'>): readonly OccasionChoice[] =>
  kind === 'number' ? ofNumbers : kind === 'switch' || kind === 'choice' ? ofStates : ['silence', 'formula']

export const choiceOf = (occasion: Occasion): OccasionChoice =>
  occasion.by === 'limit' ? occasion.limit : occasion.by

const isLimit = (choice: OccasionChoice): choice is LimitState =>
  choice === 'high' || choice === 'highHigh' || choice === 'low' || choice === 'lowLow'

export const noLimits: Limits = {
  lowLow: null,
  low: null,
  high: null,
  highHigh: null,
  deadband: 0,
  onDelay: 0,
  offDelay: 0,
}

/** A limit that makes sense at first: at the edge of what is shown, or at what it says now. */
function firstBound(
  signal: Signal,
  limits: Limits | null,
  limit: LimitState,
  now: number | undefined,
): number {
  const given = limits?.[limit] ?? null
  if (given !== null) return given
  const isUpper = limit === 'high' || limit === 'highHigh'
  const inner = isUpper ? (limits?.high ?? null) : (limits?.low ?? null)
  if (inner !== null)
    return isUpper ? inner + Math.abs(inner) * 0.1 || 1 : inner - Math.abs(inner) * 0.1 || -1
  const edge = isUpper ? signal.shown.high : signal.shown.low
  return edge ?? (now === undefined ? 0 : Number(now.toPrecision(3)))
}

/** Lets an alarm be about something else. @param now what its signal says */
export function withOccasion(
  { alarm, limits }: AlarmDraft,
  choice: OccasionChoice,
  signal: Signal,
  now: number | undefined,
): AlarmDraft {
  if (isLimit(choice))
    return {
      alarm: { ...alarm, occasion: { by: 'limit', limit: choice } },
      limits: { ...(limits ?? noLimits), [choice]: firstBound(signal, limits, choice, now) },
    }
  const occasions: Readonly<Record<Exclude<OccasionChoice, LimitState>, Occasion>> = {
    rate: { by: 'rate', most: 1, over: 600 },
    state: {
      by: 'state',
      values: [signal.kind === 'switch' ? 1 : (signal.choices[0]?.code ?? 0)],
      atLeast: 600,
    },
    silence: { by: 'silence', from: 'silent', atLeast: 0 },
    fault: { by: 'fault', atLeast: 60 },
    formula: { by: 'formula', formula: '', inputs: [], atLeast: 60 },
  }
  return { alarm: { ...alarm, occasion: occasions[choice] }, limits }
}

/** A new alarm: about the first limit that has none, else about what is usual for its kind. */
export function newAlarm(signal: Signal, now: number | undefined): AlarmDraft {
  const taken = new Set(signal.alarms.map(({ occasion }) => choiceOf(occasion)))
  const stated = (['high', 'low', 'highHigh', 'lowLow'] as const).find(
    (limit) => (signal.limits?.[limit] ?? null) !== null && !taken.has(limit),
  )
  const choice = stated ?? choicesFor(signal).find((each) => !taken.has(each)) ?? 'formula'
  const blank: AlarmDraft = {
    alarm: {
      ...untoldAlarm,
      key: '',
      occasion: { by: 'silence', from: 'silent', atLeast: 0 },
      priority: 'important',
    },
    limits: signal.limits,
  }
  return withOccasion(blank, choice, signal, now)
}

/** What an alarm is known by: what it is about, and a number where that is taken. */
export function keyFor(occasion: Occasion, alarms: readonly Alarm[]): string {
  const base = choiceOf(occasion).replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)
  const isTaken = (key: string) => alarms.some((alarm) => alarm.key === key)
  let key = base
  for (let number = 2; isTaken(key); number++) key = `${base}-${number}`
  return key
}
