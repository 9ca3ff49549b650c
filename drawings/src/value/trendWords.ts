import { formatValue } from '@jaunty-sparrow/core/signal'
import { trendOf } from '@jaunty-sparrow/core/statistics'
import { decimalsOf, type Shown, type ShownSignal } from '../instrument/index.ts'

const hour = 3_600_000

/** Where a number is going, by the hour, as far as it is more than noise; else between what it was. */
export function trendWords(
  signal: ShownSignal,
  { writing, stretch }: Pick<Shown, 'writing' | 'stretch'>,
): string | undefined {
  const points = signal.trace?.points ?? []
  if (signal.kind !== 'number' || points.length === 0) return undefined
  const decimals = decimalsOf(signal)
  const write = (value: number) => writing.number(formatValue(value, signal, decimals))
  const slope = trendOf(points)
  const byHour = slope === null ? 0 : slope * hour
  // What does not move the last digit in the span is not told.
  const isSeen = Math.abs(byHour * ((stretch.to - stretch.from) / hour)) >= 10 ** -decimals
  if (isSeen && slope !== null)
    return `${slope > 0 ? '↗ rising' : '↘ falling'} ${writing.number(formatValue(Math.abs(byHour), signal))} an hour`
  const values = points.map(([, value]) => value)
  const [low, high] = [write(Math.min(...values)), write(Math.max(...values))]
  return low === high ? 'steady' : `${low} to ${high}`
}
