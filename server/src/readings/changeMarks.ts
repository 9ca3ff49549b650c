import type { Reading } from '@jaunty-sparrow/core/signal'
import { int4Array, timestamptzArray } from '../store/binaryArray.ts'

/** What happened to readings, for what is built upon them. Stored as small integers, so the numbers never change their meaning. */
export const ChangeKind = {
  /** They are new. */
  added: 0,
  /** They are there now; which of them were there before is not known. */
  maybeKnown: 1,
  /** They were corrected, moved or removed. */
  changed: 2,
  /** A person brought them from the past. */
  fromThePast: 3,
  /** Their signals are no more. */
  signalsRemoved: 4,
} as const
export type ChangeKind = (typeof ChangeKind)[keyof typeof ChangeKind]

/** Leaves a mark in the transaction it is part of: which signals were touched, and from when to when. */
export const markStatement = (first: number): string =>
  `insert into after_commit (kind, signals, from_at, to_at)
   values ($${first}::smallint, $${first + 1}::int[], $${first + 2}::timestamptz[], $${first + 3}::timestamptz[])`

/** Leaves a mark of what came in, which also tells who was heard and what a storing rule left out. */
export const arrivalMarkStatement = (first: number): string =>
  `insert into after_commit (kind, signals, from_at, to_at, heard_signals, heard_at, heard, thinned)
   values ($${first}::smallint, $${first + 1}::int[], $${first + 2}::timestamptz[], $${first + 3}::timestamptz[],
     $${first + 4}::int[], $${first + 5}::timestamptz[], $${first + 6}::int[], $${first + 7}::json)`

/**
 * The values of a mark of what came in.
 * @param stored by signal and time
 * @param heard all that came in, also what is not stored; empty when a person brought it from the past
 */
export function arrivalMarkValues(
  kind: ChangeKind,
  stored: readonly Reading[],
  heard: readonly Reading[],
): unknown[] {
  const turns = new Map<string, { signal: number; at: number; count: number }>()
  for (const { signal, receivedAt } of heard) {
    const key = `${signal} ${Math.floor(receivedAt / 60_000)}`
    const turn = turns.get(key)
    if (turn) {
      turn.at = Math.max(turn.at, receivedAt)
      turn.count++
    } else turns.set(key, { signal, at: receivedAt, count: 1 })
  }
  const all = [...turns.values()]
  const kept = new Set(stored)
  const thinned = heard.filter((reading) => !kept.has(reading))
  return [
    ...markValues(kind, stored),
    int4Array(all, ({ signal }) => signal),
    timestamptzArray(all, ({ at }) => at),
    int4Array(all, ({ count }) => count),
    thinned.length === 0 ? null : JSON.stringify(thinned),
  ]
}

/** What lies farther apart, ms, is marked by itself: one late reading does not make all since then be looked at. */
const apart = 3_600_000

type Touched = Pick<Reading, 'signal' | 'at'>

const isApart = (earlier: Touched | undefined, later: Touched | undefined): boolean =>
  earlier?.signal !== later?.signal || (later?.at ?? 0) - (earlier?.at ?? 0) > apart

/** The values of a mark. @param sorted what was touched, by signal and time */
export function markValues(kind: ChangeKind, sorted: readonly Touched[]): unknown[] {
  const firsts = sorted.filter((each, index) => isApart(sorted[index - 1], each))
  const lasts = sorted.filter((each, index) => isApart(each, sorted[index + 1]))
  return [
    kind,
    int4Array(firsts, ({ signal }) => signal),
    timestamptzArray(firsts, ({ at }) => at),
    timestamptzArray(lasts, ({ at }) => at),
  ]
}
