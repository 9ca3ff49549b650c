import { formatValue, resolutionOf, type SignalValue } from '@jaunty-sparrow/core/signal'
import type { ShownSignal, Writing } from './shown.ts'

type Written = Pick<ShownSignal, 'kind' | 'choices' | 'decimals' | 'trace'>

/** How finely a signal is resolved: as it says itself, or as its last values are. */
export const decimalsOf = ({
  decimals,
  trace,
}: Pick<ShownSignal, 'decimals' | 'trace'>): number | undefined =>
  decimals ?? (trace && trace.points.length > 0 ? resolutionOf(lastValues(trace.points)) : undefined)

function* lastValues(points: readonly (readonly [number, number])[]): Generator<number> {
  for (let index = Math.max(0, points.length - 50); index < points.length; index++)
    yield points[index]?.[1] ?? 0
}

/** Writes a value of a signal for the eye, in the unit it is seen in. */
export function writeValue(value: SignalValue, signal: Written, writing: Writing): string {
  const text = formatValue(value, signal, decimalsOf(signal))
  return typeof value === 'number' && signal.kind === 'number' ? writing.number(text) : text
}
