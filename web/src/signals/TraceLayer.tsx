import type { Signal } from '@jaunty-sparrow/contract'
import { timeTicks } from '@jaunty-sparrow/core/time'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import {
  AlarmMarks,
  LimitLines,
  type RaisedAlarm,
  SilencePosts,
  silences,
  Trace,
  tracePath,
} from '@jaunty-sparrow/drawings/chart'
import { bisector } from 'd3-array'
import { useId, useMemo, useState } from 'react'
import { usePlotArea, useYAxisScale } from 'recharts'
import { dateFormat } from '../language/dateFormat.ts'
import { valueText } from '../language/valueText.ts'
import { useShared } from '../time/shared.ts'
import { moving, pointedAt, useChartHand } from './useChartHand.ts'
import type { Stretch, View } from './view.ts'

type Point = readonly [at: number, value: number]

export interface TraceLayerProps {
  readonly signal: Signal
  readonly points: readonly Point[]
  /** What the axes show, epoch ms. */
  readonly shown: Stretch
  readonly show: (view: View) => void
  /** Tells where the value at an instant, epoch ms, comes from; undefined where strangers look. */
  readonly explain: ((at: number) => void) | undefined
  /** A longer silence, ms, is shown as a gap. */
  readonly gap: number
  /** How wide the columns are that it was thinned to, ms. */
  readonly column: number
  readonly isStepped: boolean
  readonly isLive: boolean
  readonly timeZone: string
  /** When alarms of it were raised. */
  readonly alarms: readonly RaisedAlarm[]
}

/** Room for the name of an instant below an axis, px. */
const roomForName = 90
const instantOf = bisector(([at]: Point) => at)

/**
 * The trace itself, on the axes that the chart around it has: one path, so that it costs next to nothing to move. While the hand
 * moves, the last picture is stretched at once; the exact one follows.
 */
export function TraceLayer(props: TraceLayerProps) {
  const { signal, points, shown, show, explain, gap, column, isStepped, isLive, alarms } = props
  const area = usePlotArea()
  const y = useYAxisScale()
  const [place, setPlace] = useState<SVGRectElement | null>(null)
  const { drag, handlers } = useChartHand(place, { shown, show, explain })
  const stretch = useShared(moving) ?? shown
  const clip = useId()
  const scale = (shown.to - shown.from) / (stretch.to - stretch.from)
  const width = area?.width ?? 1
  const left = area?.x ?? 0
  const perMs = width / (shown.to - shown.from)
  const path = useMemo(
    () =>
      y
        ? tracePath(
            points,
            (at) => (centre(at, column) - shown.from) * perMs,
            (value) => Number(y(value)),
            gap,
            isStepped,
          )
        : '',
    [points, shown.from, perMs, y, gap, column, isStepped],
  )
  const gaps = useMemo(() => silences(points, gap), [points, gap])
  if (!area || !y) return null
  const xOf = (at: number): number => left + ((at - stretch.from) / (stretch.to - stretch.from)) * width
  const last = points.at(-1)
  return (
    <g>
      <clipPath id={clip}>
        <rect x={left} y={area.y - 6} width={width + 12} height={area.height + 12} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        {signal.limits && (
          <LimitLines
            limits={signal.limits}
            left={left}
            right={left + width}
            y={(value) => Number(y(value))}
          />
        )}
        <AlarmMarks alarms={alarms} from={stretch.from} to={stretch.to} x={xOf} foot={area.y + area.height} />
        <SilencePosts silences={gaps} x={xOf} top={area.y} bottom={area.y + area.height} />
        <Trace
          path={path}
          shift={xOf(shown.from)}
          stretch={scale}
          end={isLive && last ? { x: xOf(last[0]), y: Number(y(last[1])) } : undefined}
        />
        {drag && (
          <rect
            x={Math.min(xOf(drag.from), xOf(drag.to))}
            y={area.y}
            width={Math.abs(xOf(drag.to) - xOf(drag.from))}
            height={area.height}
            fill="var(--chestnut)"
            opacity={0.12}
          />
        )}
      </g>
      <TimeAxis
        {...props}
        stretch={stretch}
        xOf={xOf}
        y={area.y + area.height}
        right={left + width}
        most={Math.floor(width / roomForName)}
      />
      <Pointed {...props} xOf={xOf} yOf={(value) => Number(y(value))} area={area} />
      <rect
        ref={setPlace}
        x={left}
        y={area.y}
        width={width}
        height={area.height}
        fill="transparent"
        className="cursor-crosshair"
        {...handlers}
      />
    </g>
  )
}

/** What was thinned to columns is drawn in the middle of its column: then its picture is that of all readings drawn so. */
const centre = (at: number, column: number): number => (Math.floor(at / column) + 0.5) * column

interface AxisProps extends Pick<TraceLayerProps, 'timeZone'> {
  readonly stretch: Stretch
  readonly xOf: (at: number) => number
  readonly y: number
  readonly right: number
  readonly most: number
}

function TimeAxis({ stretch, xOf, y, right, most, timeZone }: AxisProps) {
  const ticks = timeTicks(stretch.from, stretch.to, Math.max(2, most), timeZone)
  return ticks.map(({ at, label }) => (
    <g key={at} transform={`translate(${xOf(at)} ${y})`}>
      <line y2={4} stroke="var(--rule-strong)" />
      {/* At the very end there is no room on both sides. */}
      <text y={17} textAnchor={xOf(at) > right - 16 ? 'end' : 'middle'} fontSize={12} fill="var(--ink-soft)">
        {label}
      </text>
    </g>
  ))
}

interface PointedProps extends TraceLayerProps {
  readonly xOf: (at: number) => number
  readonly yOf: (value: number) => number
  readonly area: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
}

/** Time and value where the hand points, on all charts of the page together. */
function Pointed({ signal, points, shown, timeZone, xOf, yOf, area, isStepped }: PointedProps) {
  const at = useShared(pointedAt)
  const exact = useMemo(
    () =>
      dateFormat({
        timeZone,
        hour: '2-digit',
        minute: '2-digit',
        second: '2-digit',
        ...(shown.to - shown.from > 20 * 3_600_000 && { day: 'numeric', month: 'short' }),
      }),
    [timeZone, shown],
  )
  if (at === undefined) return null
  const point = isStepped ? points[instantOf.right(points, at) - 1] : points[instantOf.center(points, at)]
  if (!point || xOf(point[0]) < area.x - 1 || xOf(point[0]) > area.x + area.width + 1) return null
  const x = xOf(point[0])
  const isRight = x > area.x + area.width / 2
  return (
    <g pointerEvents="none">
      <line x1={x} x2={x} y1={area.y} y2={area.y + area.height} stroke="var(--rule-strong)" />
      <circle cx={x} cy={yOf(point[1])} r={4} fill="var(--chestnut)" stroke="var(--sheet)" />
      <foreignObject
        x={isRight ? x - 268 : x + 8}
        y={area.y}
        width={260}
        height={36}
        className={isRight ? 'text-right' : ''}
      >
        <p
          className="inline-block rounded-md border border-rule bg-sheet px-2.5 py-1 text-sm whitespace-nowrap"
          data-testid="hover"
        >
          <strong>
            {valueText(point[1], signal, signal.decimals)} {signal.unit && unitSymbol(signal.unit)}
          </strong>
          <span className="ml-2 text-ink-soft">{exact.format(point[0])}</span>
        </p>
      </foreignObject>
    </g>
  )
}
