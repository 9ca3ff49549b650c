import type { SignalValue } from '../signal/value.ts'
import { holderOf, wishOf } from './holder.ts'
import type { RuleStretch } from './rehearse.ts'
import type { Rule } from './rule.ts'

/** One of several rules that want the same signal, with what it would have done. @typeParam Who tells which it is */
export interface Contender<Who> {
  readonly who: Who
  readonly rule: Pick<Rule, 'value' | 'otherwise'>
  readonly stretches: readonly RuleStretch[]
}

/** A stretch in which one rule asked for something and another, before it in the order, for something else. */
export interface Fight<Who> {
  readonly from: number
  readonly to: number
  readonly holder: Who
  readonly held: SignalValue
  readonly loser: Who
  readonly wished: SignalValue
}

/** Where rules would have fought for a signal. @param inOrder those of one signal, the first of them is obeyed */
export function contest<Who>(inOrder: readonly Contender<Who>[]): Fight<Who>[] {
  const edges = [
    ...new Set(inOrder.flatMap(({ stretches }) => stretches.flatMap(({ from, to }) => [from, to]))),
  ].sort((a, b) => a - b)
  const fights: Fight<Who>[] = []
  /** Where the last fight of each stands among them: a rule that flutters has many. */
  const lastOf = new Map<Who, number>()
  const places = inOrder.map(() => 0)
  for (const [index, from] of edges.slice(0, -1).entries()) {
    const to = edges[index + 1] ?? from
    const wishes = inOrder.map(({ who, rule, stretches }, place) => {
      while ((stretches[places[place] ?? 0]?.to ?? Number.POSITIVE_INFINITY) <= from)
        places[place] = (places[place] ?? 0) + 1
      const stretch = stretches[places[place] ?? 0]
      return { who, wish: stretch && stretch.from <= from ? wishOf(rule, stretch.isActing) : null }
    })
    const holder = holderOf(wishes)
    const held = holder?.wish ?? null
    if (!holder || held === null) continue
    for (const { who: loser, wish: wished } of wishes) {
      if (wished === null || wished === held) continue
      const last = lastOf.get(loser)
      const before = last === undefined ? undefined : fights[last]
      const goesOn =
        before?.to === from &&
        before.holder === holder.who &&
        before.held === held &&
        before.wished === wished
      if (goesOn && last !== undefined) fights[last] = { ...before, to }
      else {
        lastOf.set(loser, fights.length)
        fights.push({ from, to, holder: holder.who, held, loser, wished })
      }
    }
  }
  return fights
}
