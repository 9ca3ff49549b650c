import { Judge, newRuleState, type RuleAct, type RuleSurroundings, type Said } from './judge.ts'
import type { Rule } from './rule.ts'

/** What an input said over a span: the oldest first, with the last before the span. Null is at fault. */
export interface InputHistory {
  readonly signal: number
  readonly readings: readonly { readonly at: number; readonly value: number | null }[]
}

/** A stretch in which a rule was the same. Instants are epoch ms; its end is no part of it. */
export interface RuleStretch {
  readonly from: number
  readonly to: number
  readonly isActing: boolean | null
  readonly isUnknown: boolean
}

export interface Rehearsal {
  readonly acts: readonly RuleAct[]
  readonly stretches: readonly RuleStretch[]
}

/** So many readings are judged before others are let do something. */
const pieceSize = 5000

/**
 * Runs a rule over what was: what it would have done. Pauses between pieces, so that whoever runs it can do something else too.
 * @param from,to epoch ms
 */
export function* rehearse(
  rule: Rule,
  around: RuleSurroundings,
  histories: readonly InputHistory[],
  from: number,
  to: number,
): Generator<undefined, Rehearsal> {
  const said: Record<number, Said> = {}
  for (const { signal, readings } of histories) {
    const last = readings.findLast(({ at }) => at < from)
    if (last) said[signal] = { ...last, heardAt: last.at }
  }
  const acts: RuleAct[] = []
  const stretches: RuleStretch[] = []
  const judge = new Judge(rule, around, { ...newRuleState, said }, (act) => acts.push(act))
  const note = (at: number) => {
    const before = stretches.at(-1)
    const { isActing, isUnknown } = judge
    if (before?.isActing === isActing && before.isUnknown === isUnknown) return
    if (before) stretches.splice(-1, 1, { ...before, to: at })
    stretches.push({ from: at, to, isActing, isUnknown })
  }
  const pass = (at: number) => {
    for (let next = judge.next(); next !== null && next < at; next = judge.next()) {
      judge.pass(next)
      note(next)
    }
  }
  judge.pass(from)
  note(from)
  let count = 0
  for (const { at, signal, value } of inOrder(histories, from, to)) {
    pass(at)
    judge.hear({ signal, at, heardAt: at, value })
    note(at)
    if (++count % pieceSize === 0) yield
  }
  pass(to)
  return { acts, stretches: stretches.filter((each) => each.to > each.from) }
}

/** Readings of all inputs by their time. */
function* inOrder(histories: readonly InputHistory[], from: number, to: number) {
  const rest = histories.map(({ signal, readings }) => ({
    signal,
    readings,
    place: readings.findIndex(({ at }) => at >= from),
  }))
  for (;;) {
    let first: (typeof rest)[number] | undefined
    let firstAt = to
    for (const each of rest) {
      const at = each.place < 0 ? undefined : each.readings[each.place]?.at
      if (at !== undefined && at < firstAt) [first, firstAt] = [each, at]
    }
    const reading = first?.readings[first.place]
    if (!first || !reading) return
    first.place++
    yield { signal: first.signal, ...reading }
  }
}
