import type { SignalValue } from '../signal/value.ts'
import { holderOf, wishOf } from './holder.ts'
import type { RuleStretch } from './rehearse.ts'
import type { Rule } from './rule.ts'

/** One of several rules that want the same signal, with what it would have done. */
export interface Contender {
  readonly name: string
  readonly rule: Pick<Rule, 'value' | 'otherwise'>
  readonly stretches: readonly RuleStretch[]
}

/** A stretch in which one rule asked for something and another, before it in the order, for something else. */
export interface Fight {
  readonly from: number
  readonly to: number
  readonly holder: string
  readonly held: SignalValue
  readonly loser: string
  readonly wished: SignalValue
}

/** Where rules would have fought for a signal. @param inOrder those of one signal, the first of them is obeyed */
export function contest(inOrder: readonly Contender[]): Fight[] {
  const edges = [
    ...new Set(inOrder.flatMap(({ stretches }) => stretches.flatMap(({ from, to }) => [from, to]))),
  ].sort((a, b) => a - b)
  const fights: Fight[] = []
  const places = inOrder.map(() => 0)
  for (const [index, from] of edges.slice(0, -1).entries()) {
    const to = edges[index + 1] ?? from
    const wishes = inOrder.map(({ name, rule, stretches }, place) => {
      while ((stretches[places[place] ?? 0]?.to ?? Number.POSITIVE_INFINITY) <= from)
        places[place] = (places[place] ?? 0) + 1
      const stretch = stretches[places[place] ?? 0]
      return { name, wish: stretch && stretch.from <= from ? wishOf(rule, stretch.isActing) : null }
    })
    const holder = holderOf(wishes)
    if (!holder) continue
    for (const { name, wish } of wishes) {
      if (wish === null || wish === holder.wish) continue
      const fight = { from, to, holder: holder.name, held: holder.wish, loser: name, wished: wish } as Fight
      const open = fights.findLastIndex(
        (each) =>
          each.to === from &&
          each.holder === fight.holder &&
          each.loser === name &&
          each.held === fight.held &&
          each.wished === wish,
      )
      const before = fights[open]
      if (before) fights[open] = { ...before, to }
      else fights.push(fight)
    }
  }
  return fights
}
