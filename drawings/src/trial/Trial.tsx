import type { ReactNode } from 'react'
import { Line, spreadNames, TimeAxis, timeAxisHeight } from '../chart/index.ts'
import { hatching } from '../scale/hatching.ts'

/** A bound that something is compared with. */
export interface TrialBound {
  readonly id: string
  readonly value: number
  /** On which side of it the condition holds. */
  readonly side: 'below' | 'above'
  /** Whether it is a limit: what lies beyond it is hatched. */
  readonly isLimit?: boolean
}

/** What an input said over the span. */
export interface TrialRow {
  readonly name: string
  readonly points: readonly (readonly [at: number, value: number])[]
  /** Whether it has two states and no scale. */
  readonly isSwitch: boolean
  /** A silence longer than this, ms, breaks the line. */
  readonly gap: number
  readonly low: number
  readonly high: number
  readonly bounds: readonly TrialBound[]
}

/** A stretch of time, epoch ms. */
export interface TrialStretch {
  readonly from: number
  readonly to: number
}

export interface TrialProps {
  readonly width: number
  readonly from: number
  readonly to: number
  readonly timeZone: string
  readonly rows: readonly TrialRow[]
  /** What is told below: that it would have acted, or would have been raised. */
  readonly says: string
  /** When it would have. */
  readonly acting: readonly TrialStretch[]
  /** When nobody would have known. */
  readonly unknown: readonly TrialStretch[]
  /** When another rule would have been obeyed instead. */
  readonly overruled: readonly TrialStretch[]
}

/** Where things lie, px from the left and the top. */
export interface TrialLayout {
  readonly left: number
  readonly right: number
  readonly rows: readonly {
    readonly top: number
    readonly bottom: number
    readonly y: (value: number) => number
    /** Where each of its bounds is taken hold of: at its value, as far as none covers another. */
    readonly handles: readonly number[]
  }[]
  readonly bar: { readonly top: number; readonly bottom: number }
  readonly height: number
}

/** Room for the numbers at the left, and for the ends at the right, px. */
const gutter = { left: 64, right: 10 }
const nameHeight = 20
const rowHeight = { scale: 104, switch: 26 }
const between = 14
const barHeight = 16
/** What bounds are taken hold of by, px. */
export const handleHeight = 24

/** Lays out what is tried: a row for each input, and under them when it would have acted. */
export function trialLayout({ width, rows }: Pick<TrialProps, 'width' | 'rows'>): TrialLayout {
  let top = 0
  const placed = rows.map(({ isSwitch, low, high, bounds }) => {
    const begin = top + nameHeight
    const bottom = begin + (isSwitch ? rowHeight.switch : rowHeight.scale)
    top = bottom + between
    const y = (value: number) =>
      high === low ? (begin + bottom) / 2 : bottom - ((value - low) / (high - low)) * (bottom - begin)
    const wanted = bounds.map(({ value }) => y(value))
    return { top: begin, bottom, y, handles: spreadNames(wanted, handleHeight, begin, bottom) }
  })
  const bar = { top: top + nameHeight, bottom: top + nameHeight + barHeight }
  return {
    left: gutter.left,
    right: Math.max(gutter.left + 1, width - gutter.right),
    rows: placed,
    bar,
    height: bar.bottom + 4 + timeAxisHeight,
  }
}

const within = (y: number, { top, bottom }: { readonly top: number; readonly bottom: number }) =>
  Math.min(bottom, Math.max(top, y))

/** As fine as the scale can be read. */
const shortly = (value: number, { low, high }: TrialRow): string =>
  value.toFixed(Math.max(0, Math.min(6, 1 - Math.floor(Math.log10(Math.max(1e-6, high - low))))))

/** What a rule would have done: what its inputs said with the bounds they are held against, and when it would have acted. */
export const Trial = (props: TrialProps): ReactNode => {
  const { from, to, timeZone, rows, says, acting, unknown, overruled } = props
  const { left, right, rows: placed, bar } = trialLayout(props)
  const x = (at: number) => left + ((Math.min(to, Math.max(from, at)) - from) / (to - from)) * (right - left)
  const strips = (stretches: readonly TrialStretch[]) =>
    stretches.map((each) => ({
      key: each.from,
      x: x(each.from),
      width: Math.max(1, x(each.to) - x(each.from)),
    }))
  const middle = (bar.top + bar.bottom) / 2
  return (
    <g fontSize={12} fill="var(--ink-soft)">
      {rows.map((row, place) => {
        const at = placed[place]
        if (!at) return null
        return (
          <g key={row.name}>
            <text x={left} y={at.top - 7} fill="var(--ink)">
              {row.name}
            </text>
            <path d={`M${left} ${at.bottom}H${right}`} stroke="var(--rule)" />
            {!row.isSwitch && <path d={`M${left} ${at.top}H${right}`} stroke="var(--rule)" />}
            <Line
              points={row.points}
              from={from}
              to={to}
              left={left}
              right={right}
              low={row.low}
              high={row.high}
              top={at.top}
              bottom={at.bottom}
              gap={row.gap}
              isStepped={row.isSwitch}
              stroke="var(--trace)"
              strokeWidth={1.25}
              name={row.name}
            />
            {!row.isSwitch && (
              <g fontSize={11} textAnchor="end" paintOrder="stroke" stroke="var(--paper)" strokeWidth={3}>
                <text x={right - 2} y={at.top + 12}>
                  {shortly(row.high, row)}
                </text>
                <text x={right - 2} y={at.bottom - 4}>
                  {shortly(row.low, row)}
                </text>
              </g>
            )}
            {row.bounds.map(({ id, value, side, isLimit }) =>
              isLimit ? (
                <path
                  key={`beyond ${id}`}
                  data-beyond={id}
                  d={
                    side === 'above'
                      ? hatching(left, right, at.top, within(at.y(value), at))
                      : hatching(left, right, within(at.y(value), at), at.bottom)
                  }
                  stroke="var(--rule-strong)"
                  strokeWidth={0.5}
                />
              ) : null,
            )}
            {row.bounds.map(({ id, value, side }) => (
              <g key={id} data-bound={id} transform={`translate(${left} ${at.y(value)})`}>
                <path
                  d={`M0 0H${right - left}`}
                  stroke="var(--chestnut)"
                  strokeDasharray="1 4"
                  strokeLinecap="round"
                />
                <path d={`M0 0h6l-6 ${side === 'below' ? 6 : -6}z`} fill="var(--chestnut)" />
              </g>
            ))}
          </g>
        )
      })}
      <text x={left} y={bar.top - 7} fill="var(--ink)">
        {says}
      </text>
      <path d={`M${left} ${middle}H${right}`} stroke="var(--rule-strong)" />
      {strips(acting).map(({ key, ...strip }) => (
        <rect key={key} data-acting {...strip} y={bar.top} height={barHeight} fill="var(--ink)" />
      ))}
      {strips(overruled).map(({ key, ...strip }) => (
        <rect
          key={key}
          data-overruled
          {...strip}
          y={bar.top}
          height={barHeight}
          fill="var(--paper)"
          stroke="var(--ink)"
        />
      ))}
      {strips(unknown).map(({ key, ...strip }) => (
        <rect
          key={key}
          data-unknown
          {...strip}
          y={bar.top - 3}
          height={barHeight + 6}
          fill="none"
          stroke="var(--late)"
          strokeDasharray="2 3"
        />
      ))}
      <g transform={`translate(0 ${bar.bottom + 4})`}>
        <TimeAxis from={from} to={to} timeZone={timeZone} left={left} right={right} />
      </g>
    </g>
  )
}
