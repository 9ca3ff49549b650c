import { unitSymbol } from '@jaunty-sparrow/core/units'
import { extent } from 'd3-array'
import type { ReactNode } from 'react'
import { Line, SilencePosts, silences } from '../chart/index.ts'
import {
  fitText,
  inks,
  type Point,
  type Shown,
  type ShownSignal,
  standingOf,
  textWidth,
  valueWords,
} from '../instrument/index.ts'
import { limitLine } from './limitLine.ts'

/** How high a row is, px. */
export const rowHeight = 64
const lineTop = 22
const lineBottom = 58

export interface CourseRowProps {
  readonly signal: ShownSignal
  readonly shown: Pick<Shown, 'now' | 'writing' | 'width' | 'stretch'>
  readonly x: (at: number) => number
  /** Where its line ends, px. */
  readonly right: number
  readonly withLimits: boolean
}

const noPoints: readonly Point[] = []

/** One course among many: its name and value above its line, on a scale of its own. */
export function CourseRow({ signal, shown, x, right, withLimits }: CourseRowProps): ReactNode {
  const { stretch } = shown
  const points = signal.trace?.points ?? noPoints
  const gap = signal.trace?.gap ?? 0
  const [least = 0, most = 1] = extent(points, ([, value]) => value)
  const spread = most - least || 1
  const y = (value: number) =>
    most === least
      ? (lineTop + lineBottom) / 2
      : lineBottom - ((value - least) / spread) * (lineBottom - lineTop)
  const { tone, words } = standingOf(signal, shown.now, shown.writing)
  const { text, isNumber } = valueWords(signal, shown.writing)
  const value = isNumber && signal.unit ? `${text} ${unitSymbol(signal.unit)}` : text
  const last = points.at(-1)
  return (
    <g>
      <text y={13} fontSize={12.5} fill="var(--ink-soft)">
        {fitText([signal.title, ...words].join(' · '), right - textWidth(value, 14) - 16, 12.5)}
      </text>
      <text
        x={right}
        y={13}
        textAnchor="end"
        fontSize={14}
        fontWeight={600}
        fill={inks[tone]}
        data-value={signal.id}
      >
        {value}
      </text>
      <SilencePosts silences={silences(points, gap)} x={x} top={lineTop} bottom={lineBottom} />
      {withLimits && (
        <path d={limitLine(signal.limits, least, most, y, right)} stroke="var(--ink)" strokeDasharray="1 4" />
      )}
      <Line
        points={points}
        {...stretch}
        left={x(stretch.from)}
        right={right}
        low={least}
        high={most}
        top={lineTop}
        bottom={lineBottom}
        gap={gap}
        isStepped={signal.kind !== 'number'}
        stroke="var(--trace)"
        strokeWidth={1.25}
        name={signal.id}
      />
      {last && (
        <path
          d={`M${Math.min(right, x(last[0])).toFixed(1)} ${(y(last[1]) - 3.5).toFixed(1)}l7 3.5l-7 3.5Z`}
          fill="var(--trace)"
        />
      )}
    </g>
  )
}
