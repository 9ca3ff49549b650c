import type { Signal } from '@jaunty-sparrow/contract'
import { formatValue, unitSymbol } from '@jaunty-sparrow/core'
import { nice, ticks } from 'd3-array'
import { memo } from 'react'
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceDot,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts'

type Point = readonly [at: number, value: number]

interface TraceChartProps {
  readonly signal: Signal
  readonly points: readonly Point[]
  /** The span that is shown, epoch ms. */
  readonly from: number
  readonly to: number
  /** A longer silence, ms, is shown as a gap. */
  readonly gap: number
  readonly timeZone: string
}

const tenMinutes = 600_000

/** The course of one signal with axes; pointing at it tells time and value, on all charts of the page together. */
const TraceChart = memo(({ signal, points, from, to, gap, timeZone }: TraceChartProps) => {
  const isSwitch = signal.kind === 'switch'
  const clock = new Intl.DateTimeFormat('en-GB', { timeZone, hour: '2-digit', minute: '2-digit' })
  const exactClock = new Intl.DateTimeFormat('en-GB', {
    timeZone,
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  })
  const firstTick = Math.ceil(from / tenMinutes) * tenMinutes
  const timeTicks = Array.from(
    { length: Math.floor((to - firstTick) / tenMinutes) + 1 },
    (_, i) => firstTick + i * tenMinutes,
  )
  const last = points.at(-1)
  const values = isSwitch ? [0, 1] : valueTicks(points)
  const decimals = Math.max(...values.map((value) => (String(value).split('.')[1] ?? '').length))
  return (
    <ResponsiveContainer width="100%" height={isSwitch ? 84 : 148} debounce={50}>
      <LineChart
        data={withGaps(points, gap)}
        syncId="device"
        syncMethod="value"
        margin={{ top: 10, right: 14, bottom: 0, left: 0 }}
        accessibilityLayer={false}
      >
        <CartesianGrid vertical={false} stroke="var(--rule)" />
        <XAxis
          dataKey="at"
          type="number"
          domain={[from, to]}
          allowDataOverflow
          ticks={timeTicks}
          tickFormatter={(at: number) => clock.format(at)}
          tick={{ fontSize: 12, fill: 'var(--ink-soft)' }}
          tickLine={false}
          axisLine={{ stroke: 'var(--rule-strong)' }}
          minTickGap={24}
          height={22}
        />
        <YAxis
          domain={[values[0] ?? 0, values.at(-1) ?? 1]}
          ticks={values}
          interval={0}
          tickFormatter={(value: number) =>
            isSwitch ? formatValue(value, 'switch') : value.toFixed(decimals)
          }
          tick={{ fontSize: 12, fill: 'var(--ink-soft)' }}
          tickLine={false}
          axisLine={false}
          width={54}
        />
        <Tooltip
          isAnimationActive={false}
          cursor={{ stroke: 'var(--rule-strong)' }}
          content={({ active, payload }) => {
            const point = payload?.[0]?.payload as { at: number; value: number | null } | undefined
            if (!active || !point || point.value === null) return null
            return (
              <p
                className="rounded-md border border-rule bg-sheet px-2.5 py-1.5 text-sm shadow-xl"
                data-testid="hover"
              >
                <strong>
                  {formatValue(point.value, signal.kind)} {signal.unit && unitSymbol(signal.unit)}
                </strong>
                <span className="ml-2 text-ink-soft">{exactClock.format(point.at)}</span>
              </p>
            )
          }}
        />
        <Line
          dataKey="value"
          type={isSwitch ? 'stepAfter' : 'linear'}
          stroke="var(--trace)"
          strokeWidth={1.5}
          dot={false}
          activeDot={{ r: 4, fill: 'var(--chestnut)', stroke: 'var(--sheet)' }}
          isAnimationActive={false}
        />
        {last && (
          <ReferenceDot
            x={last[0]}
            y={last[1]}
            shape={({ cx = 0, cy = 0 }) => (
              <path d={`M${cx} ${cy - 4.5}l8 4.5l-8 4.5Z`} fill="var(--trace)" />
            )}
          />
        )}
      </LineChart>
    </ResponsiveContainer>
  )
})
export default TraceChart

function withGaps(points: readonly Point[], gap: number): { at: number; value: number | null }[] {
  const drawn: { at: number; value: number | null }[] = []
  let before: number | undefined
  for (const [at, value] of points) {
    if (before !== undefined && at - before > gap) drawn.push({ at: before + 1, value: null })
    drawn.push({ at, value })
    before = at
  }
  return drawn
}

/** Round numbers that span the values with some room, so that a calm signal is not drawn as an alpine ridge. */
function valueTicks(points: readonly Point[]): number[] {
  if (points.length === 0) return [0, 1]
  const values = points.map(([, value]) => value)
  const low = Math.min(...values)
  const high = Math.max(...values)
  // What never changed has no detail to come close to.
  const room =
    low === high
      ? Math.max(Math.abs(high) * 0.1, 0.5)
      : Math.max((high - low) * 0.08, Math.abs(high) * 0.004, 0.02)
  return ticks(...nice(low - room, high + room, 3), 3)
}
