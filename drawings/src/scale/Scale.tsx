import type { ReactNode } from 'react'
import type { ShownSignal } from '../instrument/index.ts'
import { hatching } from './hatching.ts'
import { Beak, Notches } from './marks.tsx'

export interface ScaleProps {
  /** From where to where it goes, in the unit of the signal. */
  readonly low: number
  readonly high: number
  readonly ticks: readonly { readonly value: number; readonly label: string }[]
  readonly limits: ShownSignal['limits']
  /** What is now; undefined where nothing is known. */
  readonly value: number | undefined
  /** What was an hour ago. */
  readonly before: number | undefined
  /** Within which it was. */
  readonly span: { readonly low: number; readonly high: number } | undefined
  /** px */
  readonly width: number
}

/** How high it is, px, with its labels. */
export const scaleHeight = 40
/** How far below its top its line lies, px. */
export const scaleLine = 18
const line = scaleLine
/** On both sides, so that the labels at the ends have theirs. */
const room = 16

/** Where a value lies along a scale, px; at its ends what is beyond. */
export function xOn({ low, high, width }: Pick<ScaleProps, 'low' | 'high' | 'width'>, at: number): number {
  const inside = Math.min(high, Math.max(low, at))
  return room + ((inside - low) / (high - low)) * (width - 2 * room)
}

/**
 * A ruled scale: a hairline with ticks, hatched beyond the limits, each with a notch whose foot points into the allowed side. Now is
 * a solid beak, an hour ago a hollow one, what was between a pale band.
 */
export function Scale({ low, high, ticks, limits, value, before, span, width }: ScaleProps): ReactNode {
  const x = (at: number) => xOn({ low, high, width }, at)
  const place = (at: number) => `translate(${x(at)} ${line})`
  const floor = limits?.low ?? limits?.lowLow ?? null
  const ceiling = limits?.high ?? limits?.highHigh ?? null
  return (
    <g>
      {span && (
        <rect
          data-span
          x={x(span.low)}
          y={line - 5}
          width={Math.max(1, x(span.high) - x(span.low))}
          height={5}
          fill="var(--rule)"
        />
      )}
      {floor !== null && (
        <path
          data-beyond="low"
          d={hatching(room, x(floor), line - 6, line)}
          stroke="var(--ink-soft)"
          strokeWidth={0.75}
        />
      )}
      {ceiling !== null && (
        <path
          data-beyond="high"
          d={hatching(x(ceiling), width - room, line - 6, line)}
          stroke="var(--ink-soft)"
          strokeWidth={0.75}
        />
      )}
      <path d={`M${room} ${line}H${width - room}`} stroke="var(--ink)" />
      {ticks.map(({ value: at, label }) => (
        <g key={at} transform={`translate(${x(at)} ${line})`}>
          <path d="M0 0v5" stroke="var(--ink)" />
          <text y={17} textAnchor="middle" fontSize={11} fill="var(--ink-soft)">
            {label}
          </text>
        </g>
      ))}
      <Notches limits={limits} place={place} />
      {before !== undefined && <Beak at={place(before)} isNow={false} />}
      {value !== undefined && <Beak at={place(value)} isNow />}
    </g>
  )
}
