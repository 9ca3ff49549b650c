import { formatValue, resolutionOf, type SignalValue } from '@jaunty-sparrow/core/signal'
import type { ShownSignal, Writing } from './shown.ts'

type Written = Pick<ShownSignal, 'kind' | 'choices' | 'decimals' | 'trace'> & {
  readonly latest?: ShownSignal['latest']
}

/** How finely a signal is resolved: as it says itself, or as its last values are. */
export const decimalsOf = (signal: Pick<Written, 'decimals' | 'trace' | 'latest'>): number =>
  signal.decimals ?? resolutionOf(lastValues(signal))

function* lastValues({ trace, latest }: Pick<Written, 'trace' | 'latest'>): Generator<number> {
  const points = trace?.points ?? []
  for (let index = Math.max(0, points.length - 50); index < points.length; index++)
    yield points[index]?.[1] ?? 0
  // The trace is told more seldom than what came last.
  if (typeof latest?.value === 'number') yield latest.value
}

/** Writes a value of a signal for the eye, in the unit it is seen in. */
export function writeValue(value: SignalValue, signal: Written, writing: Writing): string {
  const text = formatValue(value, signal, decimalsOf(signal))
  return typeof value === 'number' && signal.kind === 'number' ? writing.number(text) : text
}
