import type { Fault } from '../signal/signal.ts'

/** A value that was sent, and how often. */
export interface SentOften {
  readonly value: number
  readonly times: number
}

/** A fault that is proposed, and how often its value came. */
export interface ProposedFault extends Fault {
  readonly times: number
}

/** Values that sensors and their converters send when they have nothing to say, with what they mean. */
const telling: readonly (readonly [value: number, name: string, unit: RegExp])[] = [
  [85, 'just powered on', /^(Cel|)$/],
  [-127, 'wire off', /^(Cel|)$/],
  [-55, 'wire off', /^Cel$/],
  [0, 'no answer', /^%$/],
  [-1, 'no answer', /^.*$/],
  [-99, 'no answer', /^.*$/],
  [-999, 'no answer', /^.*$/],
  [-9999, 'no answer', /^.*$/],
  [-32768, 'no answer', /^.*$/],
  [32767, 'no answer', /^.*$/],
  [65535, 'no answer', /^.*$/],
  ...[255, 1023, 4095, 16_383, 32_767].map((value): [number, string, RegExp] => [
    value,
    'input at its upper rail',
    /^$/,
  ]),
  [0, 'input at its lower rail', /^$/],
]

/** The values that may mean a fault in a signal of a unit. @param unit UCUM code; empty where none is stated */
export const tellingValues = (unit: string): number[] => [
  ...new Set(telling.filter(([, , of]) => of.test(unit)).map(([value]) => value)),
]

/** What lies apart from the usual by less than this share of it is usual. */
const apart = 0.5

/**
 * Proposes which values mean a fault: those that sensors send when they have nothing to say, where they lie apart from all that is
 * usual.
 * @param usual what nearly all values lie within
 * @param sent how often each of the telling values came
 */
export function guessFaults(
  unit: string,
  usual: { readonly low: number; readonly high: number },
  sent: readonly SentOften[],
): ProposedFault[] {
  const room = Math.max((usual.high - usual.low) * apart, Math.abs(usual.high) * 0.1, 1e-9)
  return sent.flatMap(({ value, times }) => {
    const isUsual = value >= usual.low - room && value <= usual.high + room
    const found = telling.find(([known, , of]) => known === value && of.test(unit))
    return found && !isUsual ? [{ value, name: found[1], times }] : []
  })
}
