import { scaleOf } from '@jaunty-sparrow/core/instrument'
import { formatValue } from '@jaunty-sparrow/core/signal'
import { extent, ticks } from 'd3-array'
import { numberOf, type Shown, type ShownSignal } from '../instrument/index.ts'
import type { ScaleProps } from './Scale.tsx'

/** From where to where a scale goes: as is stated, else about what its values were. */
export function endsOf(signal: ShownSignal): { low: number; high: number } | undefined {
  const stated = scaleOf(signal)
  if (stated) return stated
  const [low, high] = extent([
    ...(signal.trace?.points ?? []).map(([, value]) => value),
    ...[numberOf(signal)].flatMap((value) => value ?? []),
  ])
  if (low === undefined || high === undefined) return undefined
  const round = ticks(low, high, 4)
  const step = (round[1] ?? 1) - (round[0] ?? 0) || Math.abs(high) || 1
  return { low: Math.floor(low / step) * step - step, high: Math.ceil(high / step) * step + step }
}

/** What a ruled scale of a signal shows. @param labels how many there is room for */
export function ruled(
  signal: ShownSignal,
  { writing, width }: Pick<Shown, 'writing' | 'width'>,
  labels: number,
): ScaleProps | undefined {
  const ends = endsOf(signal)
  if (!ends) return undefined
  const points = signal.trace?.points ?? []
  const [low, high] = extent(points, ([, value]) => value)
  return {
    ...ends,
    ticks: ticks(ends.low, ends.high, Math.max(2, labels)).map((value) => ({
      value,
      label: writing.number(formatValue(value, signal)),
    })),
    limits: signal.limits,
    value: numberOf(signal),
    before: points[0]?.[1],
    span: low === undefined || high === undefined ? undefined : { low, high },
    width,
  }
}
