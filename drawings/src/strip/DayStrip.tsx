import type { ReactNode } from 'react'
import { strokes } from './strokes.ts'

/** A stretch of time, epoch ms. */
export interface Stretch {
  readonly from: number
  readonly to: number
}

export interface DayStripProps {
  /** What it shows, epoch ms. */
  readonly from: number
  readonly to: number
  /** How much came in, in equal spans from the beginning on. */
  readonly came: readonly number[]
  /** Who was not heard, and when; a silence that goes on reaches beyond the end. */
  readonly silences: readonly Stretch[]
  readonly nights: readonly Stretch[]
  /** What somebody wrote down, and of when. */
  readonly notes?: readonly { readonly at: number; readonly says: string }[]
  /** What was commanded. */
  readonly commands?: readonly { readonly at: number; readonly says: string }[]
  /** Alarms that were raised. */
  readonly alarms?: readonly { readonly at: number; readonly says: string; readonly isLow: boolean }[]
  readonly ticks: readonly { readonly at: number; readonly label: string }[]
  /** What is looked at. */
  readonly moment: number
  /** Whether that is the present. */
  readonly isLive: boolean
  /** px */
  readonly width: number
}

/** How high a strip is, px: room for strokes, the line, and the names of the hours. */
export const stripHeight = 40
const line = 25
const tallest = 18

/**
 * A day along a line: how much came in as short strokes, night as darker paper, silence as empty paper between dotted posts, and the
 * beak at what is looked at.
 */
export function DayStrip(props: DayStripProps): ReactNode {
  const {
    from,
    to,
    came,
    silences,
    nights,
    notes = [],
    commands = [],
    alarms = [],
    ticks,
    moment,
    isLive,
    width,
  } = props
  const x = (at: number) => ((Math.min(Math.max(at, from), to) - from) / (to - from)) * width
  const drawn = strokes(came, width, tallest)
  return (
    <g>
      {nights.map((night) => (
        <rect
          key={night.from}
          data-night
          x={x(night.from)}
          width={x(night.to) - x(night.from)}
          y={line - tallest - 3}
          height={tallest + 3}
          fill="var(--well)"
        />
      ))}
      <path
        data-strokes={drawn.length}
        d={drawn.map(({ x, height }) => `M${x.toFixed(1)} ${line}v${-height.toFixed(1)}`).join('')}
        stroke="var(--trace)"
      />
      <path d={`M0 ${line + 0.5}H${width}`} stroke="var(--rule-strong)" />
      {notes
        .filter(({ at }) => at >= from && at <= to)
        .map(({ at, says }) => (
          <g key={`${at} ${says}`} data-note transform={`translate(${x(at).toFixed(1)} ${line})`}>
            <title>{says}</title>
            <path d="M0 0V-21H9L6.5 -17.5L9 -14H0" fill="var(--paper)" stroke="var(--ink)" />
          </g>
        ))}
      {commands
        .filter(({ at }) => at >= from && at <= to)
        .map(({ at, says }) => (
          <path
            key={`${at} ${says}`}
            data-command
            transform={`translate(${x(at).toFixed(1)} ${line})`}
            d="M0 1L3.5 4.5V8.5H-3.5V4.5Z"
            fill="var(--paper)"
            stroke="var(--ink)"
            strokeWidth={0.9}
          >
            <title>{says}</title>
          </path>
        ))}
      {alarms
        .filter(({ at }) => at >= from && at <= to)
        .map(({ at, says, isLow }) => (
          <path
            key={`${at} ${says}`}
            data-alarm-mark
            transform={`translate(${x(at).toFixed(1)} ${line})`}
            d={isLow ? 'M-4.5 -8H4.5L0 -0.5Z' : 'M0 -8.5L4.5 -1H-4.5Z'}
            fill="var(--trouble)"
            stroke="var(--paper)"
            strokeWidth={0.75}
          >
            <title>{says}</title>
          </path>
        ))}
      {silences.map((silence) => (
        <rect
          key={`${silence.from} ${silence.to}`}
          data-silence
          x={x(silence.from)}
          width={Math.max(3, x(silence.to) - x(silence.from))}
          y={line - tallest}
          height={tallest}
          fill="none"
          stroke="var(--late)"
          strokeDasharray="2 2"
          strokeWidth={1.25}
        />
      ))}
      {ticks.map(({ at, label }) => (
        <g key={at} transform={`translate(${x(at)} ${line})`}>
          <path d="M0 0v4" stroke="var(--rule-strong)" />
          <text y={14} textAnchor="middle" fontSize={11} fill="var(--ink-soft)">
            {label}
          </text>
        </g>
      ))}
      <g data-beak transform={`translate(${x(moment)} ${line - tallest - 3})`}>
        <path d={`M0 0v${tallest + 4}`} stroke="var(--ink)" strokeWidth={1.5} />
        <path
          d="M0 1.5l9 5-9 5z"
          fill={isLive ? 'var(--ink)' : 'var(--paper)'}
          stroke="var(--ink)"
          strokeWidth={1.25}
          strokeLinejoin="round"
        />
      </g>
    </g>
  )
}
