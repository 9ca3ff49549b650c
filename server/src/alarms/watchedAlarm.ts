import {
  atRest,
  type Found,
  type HeardLevel,
  LevelWatch,
  levelOf,
  type Move,
  moved,
  newWatchState,
  ruleOfOccasion,
  ruleOfSuppression,
  type Standing,
  stateOf,
} from '@jaunty-sparrow/core/alarm'
import { type Heard, Judge, newRuleState, type Rule } from '@jaunty-sparrow/core/rule'
import type { Acknowledged, AlarmWatchState } from '../store/schema.ts'
import { FollowedSwing } from './followedSwing.ts'
import type { StatedAlarm } from './statedAlarms.ts'

/** What is known of an alarm beside how it stands. Instants are epoch ms. */
export interface AlarmFacts {
  readonly raisedAt: number | null
  readonly returnedAt: number | null
  readonly changedAt: number | null
  readonly value: number | null
  readonly worst: number | null
  readonly limit: number | null
  readonly acknowledged: Acknowledged | null
}

const noFacts: AlarmFacts = {
  raisedAt: null,
  returnedAt: null,
  changedAt: null,
  value: null,
  worst: null,
  limit: null,
  acknowledged: null,
}

/** An alarm as it is written. */
export interface WrittenAlarm extends AlarmFacts {
  readonly id: string
  readonly judgedBy: string
  readonly standing: Standing
  readonly watch: AlarmWatchState
}

/** What happened to an alarm, to be written down. */
export interface Happened {
  readonly alarm: WatchedAlarm
  readonly at: number
  readonly move: string
  readonly value: number | null
  readonly until?: number
  readonly worst?: number | null
}

interface Surroundings {
  /** How long after it was heard a signal counts, ms; null for as long as one likes. */
  readonly countsFor: (signal: number) => number | null
  readonly happened: (what: Happened) => void
}

/** By what an alarm is watched, as it is compared: nothing else of it makes it begin anew. */
export const judgedBy = ({ alarm, limits, inputs, unlessInputs }: StatedAlarm): string =>
  JSON.stringify([
    alarm.occasion,
    alarm.occasion.by === 'limit' && limits
      ? [limits[alarm.occasion.limit], limits.deadband, limits.onDelay, limits.offDelay]
      : null,
    inputs,
    alarm.unless && [alarm.unless.formula, alarm.unless.after, unlessInputs],
  ])

/** One alarm of one signal while it is watched: what it says goes in, and how it stands comes of it. */
export class WatchedAlarm {
  stated: StatedAlarm
  standing: Standing
  facts: AlarmFacts
  /** Whether it is otherwise than it is written. */
  isChanged = false
  readonly judgedBy: string
  readonly #happened: Surroundings['happened']
  readonly #level: LevelWatch | undefined
  readonly #formula: Judge | undefined
  readonly #unless: Judge | undefined
  readonly #countsFor: number | null
  /** How far its signal has moved lately, where it is about that. */
  readonly swing: FollowedSwing | undefined

  constructor(stated: StatedAlarm, written: WrittenAlarm | undefined, around: Surroundings) {
    const { alarm, signal, limits, inputs, unlessInputs } = stated
    this.stated = stated
    this.#happened = around.happened
    this.judgedBy = judgedBy(stated)
    // Watched by something else, it stands as it stood, and is looked at anew.
    const watch = written?.judgedBy === this.judgedBy ? written.watch : undefined
    this.standing = written?.standing ?? atRest
    this.facts = written ?? noFacts
    this.#countsFor = signal && around.countsFor(signal.signal)
    this.swing = alarm.occasion.by === 'rate' ? new FollowedSwing(alarm.occasion.over) : undefined
    const { isActive } = this.standing
    const level =
      alarm.occasion.by === 'formula'
        ? undefined
        : levelOf(alarm.occasion, limits, this.#countsFor ?? Number.POSITIVE_INFINITY)
    this.#level =
      level &&
      new LevelWatch(level, watch?.level ?? { ...newWatchState, isOver: isActive, isActive }, (found) =>
        this.#found(found),
      )
    const judge = (
      rule: Rule,
      state: AlarmWatchState['formula'],
      tell: (at: number, isActing: boolean | null) => void,
    ) =>
      new Judge(
        rule,
        { zone: 'UTC', place: null, countsFor: around.countsFor },
        state ?? newRuleState,
        (act) => tell(act.at, act.isActing),
      )
    if (alarm.occasion.by === 'formula' && inputs)
      this.#formula = judge(ruleOfOccasion(alarm.occasion, inputs), watch?.formula, (at, isActing) => {
        if (isActing !== null && isActing !== this.standing.isActive)
          this.#found({ kind: isActing ? 'raise' : 'return', at, value: null, worst: null })
      })
    if (alarm.unless && unlessInputs)
      this.#unless = judge(ruleOfSuppression(alarm.unless, unlessInputs), watch?.unless, (at, isActing) =>
        this.move({ by: isActing === true ? 'suppress' : 'release' }, at),
      )
    // What suppresses it is stated no more, or cannot be known.
    else if (this.standing.isSuppressed) this.move({ by: 'release' }, this.facts.changedAt ?? 0)
  }

  get id(): string {
    return this.stated.id
  }

  get state() {
    return stateOf(this.standing)
  }

  /** The limit it is about; null where it is about none. */
  get limit(): number | null {
    const { alarm, limits } = this.stated
    return alarm.occasion.by === 'limit' ? (limits?.[alarm.occasion.limit] ?? null) : null
  }

  /** The signals that its formulas are over. */
  get inputs(): readonly number[] {
    const { inputs, unlessInputs } = this.stated
    return [...(inputs ?? []), ...(unlessInputs ?? [])].map(({ signal }) => signal)
  }

  /** Takes what its signal said before, to measure a change against. @param at epoch ms */
  follow(at: number, value: number | null): void {
    if (value !== null) this.swing?.add(at, value)
  }

  /** Takes a reading of its signal; where a change is what matters, how far it has moved. */
  hear(reading: HeardLevel): void {
    const { at, value } = reading
    const heard = this.swing && value !== null ? { ...reading, value: this.swing.add(at, value) } : reading
    if (!this.#level) return
    const before = this.#level.revision
    this.#level.hear(heard)
    // What was said last alone is not written: told again it comes to the same.
    if (this.#level.revision !== before) this.isChanged = true
  }

  /** Takes a reading of a signal that its formulas are over. */
  hearInput(heard: Heard): void {
    this.#formula?.hear(heard)
    this.#unless?.hear(heard)
    this.isChanged = true
  }

  /** Takes down that a signal of its formulas was heard to be as it was. @param at epoch ms */
  heardAgain(signal: number, at: number): void {
    this.#formula?.heardAgain(signal, at)
    this.#unless?.heardAgain(signal, at)
    this.isChanged = true
  }

  /** Judges it as it is, though nothing new was said: it is watched by something else than before. */
  reconsider(at: number, said: { readonly at: number; readonly value: number | null }): void {
    this.#level?.reconsider(at, said)
    this.isChanged = true
  }

  /** @param heardAt when its signal was heard last, epoch ms; undefined where nobody knows */
  pass(to: number, heardAt: number | undefined): void {
    const until = heardAt === undefined || this.#countsFor === null ? null : heardAt + this.#countsFor
    this.#level?.pass(to, until)
    this.#formula?.pass(to)
    this.#unless?.pass(to)
    const { shelf } = this.standing
    if (shelf && shelf.until <= to) this.move({ by: 'wake' }, shelf.until)
    this.isChanged = true
  }

  /** Goes on after nobody looked for a while, or the clock was set back. @param at epoch ms */
  goOn(at: number): void {
    this.#level?.goOn(at)
    this.#formula?.goOn(at)
    this.#unless?.goOn(at)
    this.isChanged = true
  }

  /** When it has to be looked at though nothing is said, epoch ms; infinite for never. */
  next(): number {
    return Math.min(
      this.#level?.next() ?? Number.POSITIVE_INFINITY,
      this.#formula?.next() ?? Number.POSITIVE_INFINITY,
      this.#unless?.next() ?? Number.POSITIVE_INFINITY,
      this.standing.shelf?.until ?? Number.POSITIVE_INFINITY,
    )
  }

  /**
   * Lets something happen to it.
   * @param at epoch ms
   * @returns whether it could
   */
  move(move: Move, at: number, facts: Partial<AlarmFacts> = {}): boolean {
    const before = this.standing
    const after = moved(before, move, this.stated.alarm.isLatching)
    if (!after) return false
    if (after === before) return true
    this.standing = after
    const isNew = after.isUnacknowledged && !before.isUnacknowledged && move.by !== 'raise'
    this.facts = {
      ...this.facts,
      changedAt: at,
      ...(isNew && { raisedAt: at, returnedAt: null, acknowledged: null }),
      ...facts,
    }
    this.isChanged = true
    // What is set aside raises nothing and returns nothing, but is taken down.
    this.#happened({ alarm: this, at, move: move.by, value: facts.value ?? null })
    return true
  }

  written(): WrittenAlarm {
    return {
      ...this.facts,
      id: this.id,
      judgedBy: this.judgedBy,
      standing: this.standing,
      watch: {
        ...(this.#level && { level: this.#level.state }),
        ...(this.#formula && { formula: this.#formula.state() }),
        ...(this.#unless && { unless: this.#unless.state() }),
      },
    }
  }

  #found({ kind, at, value, worst, until }: Found): void {
    if (kind === 'late') {
      this.#happened({ alarm: this, at, move: 'late', value, worst, until: until ?? at })
      this.isChanged = true
    } else if (kind === 'raise')
      this.move({ by: 'raise' }, at, {
        raisedAt: at,
        returnedAt: null,
        value,
        worst,
        limit: this.limit,
        acknowledged: null,
      })
    else this.move({ by: 'return' }, at, { returnedAt: at, worst })
  }
}
