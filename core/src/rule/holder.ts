import type { SignalValue } from '../signal/value.ts'
import type { Rule } from './rule.ts'

/** What a rule asks for where it acts or does not; null where it leaves that to others. */
export const wishOf = (
  rule: Pick<Rule, 'value' | 'otherwise'>,
  isActing: boolean | null,
): SignalValue | null => (isActing === null ? null : isActing ? rule.value : rule.otherwise)

/** The first of several, in their order, that asks for something holds a signal; undefined where none does. */
export const holderOf = <T extends { readonly wish: SignalValue | null }>(
  inOrder: readonly T[],
): T | undefined => inOrder.find(({ wish }) => wish !== null)
