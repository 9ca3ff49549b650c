import { compileFormula, type Formula } from '../formula/index.ts'
import type { Condition, Rule } from './rule.ts'
import { type ClockPlace, clockTeller } from './ruleClock.ts'

const second = 1000
const hour = 3_600_000

/** What an input said last. Instants are epoch ms. */
export interface Said {
  readonly at: number
  /** When that was heard, or when it was heard again to be so. */
  readonly heardAt: number
  /** Null where the sensor is at fault. */
  readonly value: number | null
}

/** How far a rule has come. All of it outlives a restart. */
export interface RuleState {
  /** The last instant it was judged at; null where it never was. */
  readonly judgedTo: number | null
  readonly said: Readonly<Record<number, Said>>
  /** Since when its conditions have held without a break. */
  readonly whenSince: number | null
  readonly untilSince: number | null
  /** Null until it knows for the first time. */
  readonly isActing: boolean | null
  readonly isUnknown: boolean
  /** When it last began or ended. */
  readonly changedAt: number | null
  /** When it began within the last hour. */
  readonly begunAt: readonly number[]
}

export const newRuleState: RuleState = {
  judgedTo: null,
  said: {},
  whenSince: null,
  untilSince: null,
  isActing: null,
  isUnknown: false,
  changedAt: null,
  begunAt: [],
}

/** What a rule did: it began or ended to act, ceased to know, or knows again. */
export interface RuleAct {
  readonly at: number
  readonly kind: 'begins' | 'ends' | 'unknown' | 'known'
  readonly isActing: boolean | null
  /** What its inputs said then, by what its formulas call them; null for what nobody knows. */
  readonly because: Readonly<Record<string, number | null>>
}

/** What is needed beside the rule. */
export interface RuleSurroundings extends ClockPlace {
  /** How long after it was heard an input counts, ms; null for as long as one likes. */
  readonly countsFor: (signal: number) => number | null
}

/** A new reading of an input. */
export interface Heard extends Said {
  readonly signal: number
}

const earlier = (one: number | null, other: number): number | null =>
  one === null ? null : Math.min(one, other)

/** Rules are judged every second, and their formulas stay: so many are kept as they were understood. */
const mostKept = 5000
const understood = new Map<string, Formula | undefined>()

function compiled(condition: Condition | null): Formula | undefined {
  if (condition === null) return undefined
  const { formula } = condition
  if (understood.has(formula)) return understood.get(formula)
  const read = compileFormula(formula)
  if (understood.size >= mostKept) understood.clear()
  understood.set(formula, 'problem' in read ? undefined : read)
  return understood.get(formula)
}

/**
 * Judges a rule: takes what its inputs say and the time as it passes, and tells what it does. It comes to the same whether it is
 * asked at every instant or at those alone at which something can change.
 */
export class Judge {
  readonly #rule: Rule
  readonly #clock: ReturnType<typeof clockTeller> | undefined
  readonly #when: Formula | undefined
  readonly #until: Formula | undefined
  readonly #used: readonly {
    readonly name: string
    readonly signal: number
    readonly counts: number | null
  }[]
  /** How late each input may come in and still count: as long as it may stay away, and as long as is waited anyhow, ms. */
  readonly #lateness = new Map<number, number>()
  readonly #said: Map<number, Said>
  readonly #tell: (act: RuleAct) => void
  /** What formulas are worked out from: what the inputs said at the instant it was judged at last. */
  readonly #scope = {
    x: 0,
    field: () => undefined,
    constant: (name: string) => this.#valueOf(name, this.#judgedTo ?? 0),
  }
  #judgedTo: number | null
  #whenSince: number | null
  #untilSince: number | null
  #isActing: boolean | null
  #isUnknown: boolean
  #changedAt: number | null
  #begunAt: readonly number[]

  /** @param tell is told what it does */
  constructor(rule: Rule, around: RuleSurroundings, state: RuleState, tell: (act: RuleAct) => void) {
    this.#rule = rule
    this.#tell = tell
    this.#clock = rule.clock ? clockTeller(rule.clock, around) : undefined
    this.#when = compiled(rule.when)
    this.#until = compiled(rule.until)
    const names = new Set([...(this.#when?.constants ?? []), ...(this.#until?.constants ?? [])])
    this.#used = rule.inputs
      .filter(({ name }) => names.has(name))
      .map(({ name, signal }) => ({ name, signal, counts: around.countsFor(signal) }))
    const waits = Math.max(rule.when?.atLeast ?? 0, rule.until?.atLeast ?? 0) * second
    for (const { signal, counts } of this.#used)
      this.#lateness.set(signal, counts === null ? Number.POSITIVE_INFINITY : counts + waits)
    this.#said = new Map(Object.entries(state.said).map(([signal, said]) => [Number(signal), said]))
    this.#judgedTo = state.judgedTo
    this.#whenSince = state.whenSince
    this.#untilSince = state.untilSince
    this.#isActing = state.isActing
    this.#isUnknown = state.isUnknown
    this.#changedAt = state.changedAt
    this.#begunAt = state.begunAt
  }

  /**
   * Takes what an input says. What was measured before what it said last, or came in later than is its way, changes nothing.
   * @returns whether it counted
   */
  hear({ signal, at: measuredAt, heardAt, value }: Heard): boolean {
    // A clock that is ahead measures nothing that is still to come.
    const at = Math.min(measuredAt, heardAt)
    const before = this.#said.get(signal)
    if ((before && at <= before.at) || heardAt - at > (this.#lateness.get(signal) ?? 0)) return false
    this.pass(Math.max(at, this.#judgedTo ?? at))
    this.#said.set(signal, { at, heardAt, value })
    this.#settle(Math.max(at, this.#judgedTo ?? at), true)
    return true
  }

  /** Takes down that an input was heard to be as it was. @param heardAt epoch ms */
  heardAgain(signal: number, heardAt: number): void {
    const before = this.#said.get(signal)
    if (!before || heardAt <= before.heardAt) return
    this.#said.set(signal, { ...before, heardAt })
    if (this.#isUnknown) this.#settle(Math.max(heardAt, this.#judgedTo ?? heardAt), false)
  }

  /** Lets time pass, up to an instant, epoch ms; all that falls due until then is done in its order. */
  pass(to: number): void {
    if (this.#judgedTo === null) {
      this.#settle(to, false)
      return
    }
    for (let next = this.next(); next !== null && next <= to; next = this.next()) this.#settle(next, false)
  }

  /**
   * Goes on after a time in which nobody looked, or when the clock was set back: it is judged as it is now, and nothing is done of
   * what fell due between.
   * @param at epoch ms
   */
  goOn(at: number): void {
    if (this.#rule.safeAfterAway) this.#said.clear()
    // By the clock as it is now, that is still to come: it would hide all that is said until then.
    for (const [signal, said] of this.#said) if (said.at > at) this.#said.delete(signal)
    this.#whenSince = earlier(this.#whenSince, at)
    this.#untilSince = earlier(this.#untilSince, at)
    this.#changedAt = earlier(this.#changedAt, at)
    this.#begunAt = this.#begunAt.filter((begun) => begun <= at)
    this.#settle(at, false)
  }

  /** When it has to be judged again though no input says anything, epoch ms; null for never. */
  next(): number | null {
    const { when, until, leastOn, leastOff, mostAnHour } = this.#rule
    let soonest = Number.POSITIVE_INFINITY
    if (this.#whenSince !== null)
      soonest = this.#sooner(soonest, this.#whenSince + (when?.atLeast ?? 0) * second)
    if (this.#untilSince !== null)
      soonest = this.#sooner(soonest, this.#untilSince + (until?.atLeast ?? 0) * second)
    if (this.#changedAt !== null)
      soonest = this.#sooner(soonest, this.#changedAt + (this.#isActing ? leastOn : leastOff) * second)
    if (mostAnHour !== null && this.#begunAt.length >= mostAnHour)
      soonest = this.#sooner(soonest, (this.#begunAt[0] ?? 0) + hour)
    for (const { signal, counts } of this.#used) {
      const said = this.#said.get(signal)
      if (said && counts !== null) soonest = this.#sooner(soonest, said.heardAt + counts)
    }
    if (this.#clock && this.#judgedTo !== null)
      soonest = this.#sooner(soonest, this.#clock(this.#judgedTo).until)
    return soonest === Number.POSITIVE_INFINITY ? null : soonest
  }

  get isActing(): boolean | null {
    return this.#isActing
  }

  get isUnknown(): boolean {
    return this.#isUnknown
  }

  state(): RuleState {
    return {
      judgedTo: this.#judgedTo,
      said: Object.fromEntries(this.#said),
      whenSince: this.#whenSince,
      untilSince: this.#untilSince,
      isActing: this.#isActing,
      isUnknown: this.#isUnknown,
      changedAt: this.#changedAt,
      begunAt: this.#begunAt,
    }
  }

  /** The sooner of two instants, where the second is still to come. */
  #sooner(soonest: number, at: number): number {
    return at < soonest && at > (this.#judgedTo ?? Number.NEGATIVE_INFINITY) ? at : soonest
  }

  // It runs for every reading of a month that is tried: nothing is made here that is not needed.
  #settle(at: number, isHeard: boolean): void {
    this.#judgedTo = at
    const isIn = this.#clock?.(at).isIn ?? true
    const when = this.#rule.when === null ? true : this.#truthOf(this.#when)
    const until = this.#rule.until === null ? false : this.#truthOf(this.#until)
    const isKnown = when !== undefined && until !== undefined
    // Out of its time it rests, whatever nobody knows.
    if (isIn && !isKnown) {
      this.#ceaseToKnow(at)
      return
    }
    if (this.#isUnknown) {
      this.#isUnknown = false
      if (isKnown) this.#say(at, 'known')
    }
    const holds = isIn && when === true
    if (!holds) this.#whenSince = null
    else this.#whenSince ??= isHeard ? this.#measuredAt() : at
    if (!until) this.#untilSince = null
    else this.#untilSince ??= isHeard ? this.#measuredAt() : at
    if (this.#isActing) this.#endOr(at, holds, isIn)
    else this.#beginOr(at)
  }

  #truthOf(formula: Formula | undefined): boolean | undefined {
    const made = formula?.evaluate(this.#scope)
    return !made || 'problem' in made ? undefined : made.value !== 0
  }

  /** What was heard late has been so since it was measured. */
  #measuredAt(): number {
    let newest = 0
    for (const { signal } of this.#used) newest = Math.max(newest, this.#said.get(signal)?.at ?? 0)
    return newest
  }

  #beginOr(at: number): void {
    const { when, leastOff, mostAnHour } = this.#rule
    this.#isActing = false
    if (this.#untilSince !== null) return
    if (this.#whenSince === null || at - this.#whenSince < (when?.atLeast ?? 0) * second) return
    if (this.#changedAt !== null && at - this.#changedAt < leastOff * second) return
    this.#begunAt = this.#begunAt.filter((begun) => at - begun < hour)
    if (mostAnHour !== null && this.#begunAt.length >= mostAnHour) return
    this.#turn(at, true)
    this.#say(at, 'begins')
  }

  #endOr(at: number, holds: boolean, isIn: boolean): void {
    const { until, leastOn } = this.#rule
    const isOver = until
      ? !isIn || (this.#untilSince !== null && at - this.#untilSince >= until.atLeast * second)
      : !holds
    if (!isOver || (this.#changedAt !== null && at - this.#changedAt < leastOn * second)) return
    this.#turn(at, false)
    this.#say(at, 'ends')
  }

  /** The safe state comes at once: no least time holds against it. */
  #ceaseToKnow(at: number): void {
    this.#whenSince = null
    this.#untilSince = null
    if (this.#isUnknown) return
    this.#isUnknown = true
    const { whenUnknown } = this.#rule
    if (whenUnknown !== 'stay' && this.#isActing !== (whenUnknown === 'act'))
      this.#turn(at, whenUnknown === 'act')
    this.#say(at, 'unknown')
  }

  #turn(at: number, isActing: boolean): void {
    this.#isActing = isActing
    this.#changedAt = at
    if (isActing && this.#rule.mostAnHour !== null) this.#begunAt = [...this.#begunAt, at]
  }

  #valueOf(wanted: string, at: number): number | undefined {
    for (const { name, signal, counts } of this.#used) {
      if (name !== wanted) continue
      const said = this.#said.get(signal)
      if (!said || said.value === null) return undefined
      return counts !== null && at >= said.heardAt + counts ? undefined : said.value
    }
    return undefined
  }

  #say(at: number, kind: RuleAct['kind']): void {
    const because = Object.fromEntries(this.#used.map(({ name }) => [name, this.#valueOf(name, at) ?? null]))
    this.#tell({ at, kind, isActing: this.#isActing, because })
  }
}
