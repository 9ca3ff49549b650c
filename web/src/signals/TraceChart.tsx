import type { Signal } from '@jaunty-sparrow/contract'
import { extent, nice, ticks } from 'd3-array'
import { memo } from 'react'
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import { valueText, written } from '../language/valueText.ts'
import { TraceLayer, type TraceLayerProps } from './TraceLayer.tsx'

type TraceChartProps = Omit<TraceLayerProps, 'isStepped'>

/** The course of one signal with axes; pointing at it tells time and value, and what it shows is chosen by hand. */
const TraceChart = memo((props: TraceChartProps) => {
  const { signal, points, shown } = props
  const states = statesOf(signal)
  const values = states ?? valueTicks(points, signal)
  const decimals = Math.max(...values.map((value) => (String(value).split('.')[1] ?? '').length))
  const corners = [
    { at: shown.from, value: values[0] },
    { at: shown.to, value: values.at(-1) },
  ]
  return (
    <ResponsiveContainer width="100%" height={states && values.length < 4 ? 84 : 148} debounce={50}>
      {/* The library draws axes where it draws something: two points nobody sees. The trace is a layer of our own. */}
      <LineChart
        data={corners}
        margin={{ top: 10, right: 14, bottom: 0, left: 0 }}
        accessibilityLayer={false}
      >
        <CartesianGrid vertical={false} stroke="var(--rule)" />
        <XAxis
          dataKey="at"
          type="number"
          domain={[shown.from, shown.to]}
          allowDataOverflow
          tick={false}
          tickLine={false}
          axisLine={{ stroke: 'var(--rule-strong)' }}
          height={22}
        />
        <YAxis
          domain={[values[0] ?? 0, values.at(-1) ?? 1]}
          ticks={values}
          interval={0}
          tickFormatter={(value: number) =>
            states ? valueText(value, signal) : written(value.toFixed(decimals))
          }
          tick={{ fontSize: 12, fill: 'var(--ink-soft)' }}
          tickLine={false}
          axisLine={false}
          width={states ? 84 : 54}
        />
        <Line dataKey="value" stroke="none" dot={false} activeDot={false} isAnimationActive={false} />
        <TraceLayer {...props} isStepped={states !== undefined} />
      </LineChart>
    </ResponsiveContainer>
  )
})
export default TraceChart

/** The states that what is no number can be in, by their codes. */
const statesOf = ({ kind, choices }: Signal): number[] | undefined =>
  kind === 'switch'
    ? [0, 1]
    : kind === 'choice'
      ? choices.map(({ code }) => code).sort((a, b) => a - b)
      : undefined

/** Round numbers that span the values with some room, so that a calm signal is not drawn as an alpine ridge. */
function valueTicks(points: TraceChartProps['points'], { limits }: Signal): number[] {
  if (points.length === 0) return [0, 1]
  const [lowest = 0, highest = 0] = extent(points, ([, value]) => value)
  // A limit is in sight when it is no farther away than the values are from each other.
  const reach = highest - lowest
  const near = [limits?.lowLow, limits?.low, limits?.high, limits?.highHigh].filter(
    (limit): limit is number =>
      typeof limit === 'number' && limit >= lowest - reach && limit <= highest + reach,
  )
  const [low = 0, high = 0] = extent([lowest, highest, ...near])
  // What never changed has no detail to come close to.
  const room =
    low === high
      ? Math.max(Math.abs(high) * 0.1, 0.5)
      : Math.max((high - low) * 0.08, Math.abs(high) * 0.004, 0.02)
  // What is never below nothing, as a current, is not drawn as if it could be.
  const floor = low >= 0 ? Math.max(0, low - room) : low - room
  const ceiling = high <= 0 ? Math.min(0, high + room) : high + room
  return ticks(...nice(floor, ceiling, 3), 3)
}
