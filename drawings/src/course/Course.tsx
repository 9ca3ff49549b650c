import { formatValue } from '@jaunty-sparrow/core/signal'
import { extent, ticks } from 'd3-array'
import type { ReactNode } from 'react'
import {
  AlarmMarks,
  LimitLines,
  Line,
  SilencePosts,
  silences,
  spreadNames,
  TimeAxis,
  timeAxisHeight,
} from '../chart/index.ts'
import { fitText, inks, type Shown, type ShownSignal, standingOf, textWidth } from '../instrument/index.ts'
import { CommandTabs } from './CommandTabs.tsx'
import { CourseRow, rowHeight } from './CourseRow.tsx'
import { NoteFlags } from './NoteFlags.tsx'

export interface CourseProps {
  readonly shown: Shown
  /** px, without what stands above */
  readonly height: number
  readonly withLimits: boolean
  readonly inRows: boolean
  /** Whether what is drawn is named where it ends. */
  readonly namesEnds: boolean
}

const top = 8
const axisWidth = 40
/** Traces are told apart by tone and weight. */
const pens = [
  { stroke: 'var(--trace)', strokeWidth: 1.75 },
  { stroke: 'var(--rule-strong)', strokeWidth: 1.75 },
  { stroke: 'var(--trace)', strokeWidth: 0.9 },
] as const

/** Courses over one axis of time: up to three in a frame with an axis for each of two units, or more in rows. */
export function Course({ shown, height, withLimits, inRows, namesEnds }: CourseProps): ReactNode {
  const { signals, stretch, width, timeZone } = shown
  const { from, to } = stretch
  const units = [...new Set(signals.map(({ unit, kind }) => (kind === 'number' ? (unit ?? '') : ' ')))]
  const hasRight = !inRows && units.length > 1
  const names = signals.map((signal) => nameOf(signal, signals))
  const nameWidth = namesEnds
    ? Math.min(width * 0.3, Math.max(70, ...names.map((name) => textWidth(name, 12))) + 14)
    : 10
  const left = inRows ? 0 : axisWidth
  const right = width - (inRows ? 10 : nameWidth) - (hasRight ? axisWidth : 0)
  const bottom = inRows ? signals.length * rowHeight : height - timeAxisHeight
  const x = (at: number) => left + ((at - from) / (to - from)) * (right - left)
  const isEmpty = signals.every(({ trace }) => (trace?.points.length ?? 0) === 0)
  const isKnown = signals.every(({ trace }) => trace !== null)
  const axes =
    inRows || isEmpty
      ? []
      : units.slice(0, 2).map((unit) =>
          axisOf(
            signals.filter((each) => unitOf(each) === unit),
            height,
          ),
        )
  const axisFor = (signal: ShownSignal) => axes[units.indexOf(unitOf(signal))] ?? axes[0]
  const ends = inRows
    ? []
    : spreadNames(
        signals.map((signal) => {
          const last = signal.trace?.points.at(-1)
          return last ? (axisFor(signal)?.y(last[1]) ?? top) : bottom
        }),
        // What asks for a look has a word below its name.
        signals.some((signal) => standingOf(signal, shown.now, shown.writing).words.length > 0) ? 27 : 13,
        top + 6,
        bottom,
      )
  return (
    <g>
      {shown.nights.map((night) => {
        const [begin, end] = [Math.max(from, night.from), Math.min(to, night.to)]
        return begin < end ? (
          <rect
            key={night.from}
            data-night
            x={x(begin)}
            y={top}
            width={x(end) - x(begin)}
            height={bottom - top}
            fill="var(--well)"
          />
        ) : null
      })}
      <path d={`M${left} ${bottom}H${right}`} stroke="var(--rule-strong)" />
      <g transform={`translate(0 ${bottom})`}>
        <TimeAxis from={from} to={to} timeZone={timeZone} left={left} right={right} />
      </g>
      {axes.map((axis, side) => (
        <g key={units[side]}>
          {axis.ticks.map((value) => (
            <g key={value} transform={`translate(0 ${axis.y(value).toFixed(1)})`}>
              {side === 0 && <path d={`M${left} 0H${right}`} stroke="var(--rule)" strokeWidth={0.75} />}
              <text
                x={side === 0 ? left - 6 : right + nameWidth + 2}
                y={4}
                fontSize={11}
                textAnchor={side === 0 ? 'end' : 'start'}
                fill="var(--ink-soft)"
              >
                {axis.label(value, shown)}
              </text>
            </g>
          ))}
        </g>
      ))}
      {!inRows &&
        withLimits &&
        signals.length > 0 &&
        limitsShared(signals).map(({ signal, limits }) => {
          const axis = axisFor(signal)
          return axis ? (
            <LimitLines key={signal.id} limits={within(limits, axis)} left={left} right={right} y={axis.y} />
          ) : null
        })}
      {inRows
        ? signals.map((signal, place) => (
            <g key={signal.id} transform={`translate(0 ${place * rowHeight})`}>
              <CourseRow signal={signal} shown={shown} x={x} right={right} withLimits={withLimits} />
            </g>
          ))
        : signals.map((signal, place) => {
            const axis = axisFor(signal)
            const points = signal.trace?.points ?? []
            const last = points.at(-1)
            if (!axis || !last) return null
            const gap = signal.trace?.gap ?? 0
            const pen = pens[place % pens.length] ?? pens[0]
            const { tone, words } = standingOf(signal, shown.now, shown.writing)
            const [lastX, lastY] = [Math.min(right, x(last[0])), axis.y(last[1])]
            return (
              <g key={signal.id}>
                <SilencePosts silences={silences(points, gap)} x={x} top={top} bottom={bottom} />
                <Line
                  points={points}
                  from={from}
                  to={to}
                  left={left}
                  right={right}
                  low={axis.low}
                  high={axis.high}
                  top={top}
                  bottom={bottom}
                  gap={gap}
                  isStepped={signal.kind !== 'number'}
                  {...pen}
                  name={signal.id}
                />
                <path
                  data-beak
                  d={`M${lastX.toFixed(1)} ${(lastY - 4).toFixed(1)}l8 4l-8 4Z`}
                  fill={tone === 'trouble' || tone === 'late' ? inks[tone] : pen.stroke}
                />
                {namesEnds && (
                  <text
                    x={right + 11}
                    y={(ends[place] ?? lastY) + 4}
                    fontSize={12}
                    fill={tone === 'rest' ? 'var(--ink)' : inks[tone]}
                    data-value={signal.id}
                  >
                    {fitText(names[place] ?? '', nameWidth - 11, 12)}
                  </text>
                )}
                {namesEnds && words.length > 0 && (
                  <text
                    x={right + 11}
                    y={(ends[place] ?? lastY) + 17}
                    fontSize={11}
                    fontWeight={600}
                    fill={inks[tone]}
                  >
                    {fitText(words[0] ?? '', nameWidth - 11, 11)}
                  </text>
                )}
              </g>
            )
          })}
      <CommandTabs commands={shown.commands} from={from} to={to} x={x} foot={bottom} />
      <AlarmMarks alarms={shown.alarms} from={from} to={to} x={x} foot={bottom} />
      <NoteFlags notes={shown.notes} from={from} to={to} x={x} top={top} bottom={bottom} right={right} />
      {!inRows && isEmpty && isKnown && (
        <text
          x={(left + right) / 2}
          y={(top + bottom) / 2}
          textAnchor="middle"
          fontSize={13}
          fill="var(--ink-soft)"
        >
          {fitText('Nothing was measured in this time.', right - left, 13)}
        </text>
      )}
    </g>
  )
}

const unitOf = ({ unit, kind }: ShownSignal): string => (kind === 'number' ? (unit ?? '') : ' ')

/** What tells a signal from the others of its drawing. */
function nameOf({ title, device }: ShownSignal, all: readonly ShownSignal[]): string {
  const isOneQuantity = all.every((each) => each.title === title)
  if (isOneQuantity && all.length > 1) return device
  return all.some((each) => each.device !== device) ? `${device} ${title}` : title
}

interface Axis {
  readonly low: number
  readonly high: number
  readonly y: (value: number) => number
  readonly ticks: readonly number[]
  readonly label: (value: number, shown: Pick<Shown, 'writing'>) => string
}

/** An axis that takes in what was, and the limits as far as they lie near it. */
function axisOf(signals: readonly ShownSignal[], height: number): Axis {
  const values = signals.flatMap(({ trace }) => extent(trace?.points ?? [], ([, value]) => value))
  const [least = 0, most = 1] = extent(values.filter((value) => value !== undefined))
  const spread = most - least || Math.abs(most) * 0.02 || 1
  const limits = signals.flatMap(({ limits }) =>
    limits ? [limits.lowLow, limits.low, limits.high, limits.highHigh] : [],
  )
  const near = limits.filter(
    (limit): limit is number => limit !== null && limit > least - spread && limit < most + spread,
  )
  const low = Math.min(least, ...near) - spread * 0.06
  const high = Math.max(most, ...near) + spread * 0.06
  const bottom = height - timeAxisHeight
  const [first] = signals
  return {
    low,
    high,
    y: (value) => top + (1 - (value - low) / (high - low)) * (bottom - top),
    ticks: ticks(low, high, Math.max(2, Math.floor((bottom - top) / 40))),
    label: (value, { writing }) =>
      first && first.kind !== 'number'
        ? Number.isInteger(value)
          ? formatValue(value, first)
          : ''
        : writing.number(formatValue(value, { kind: 'number', choices: [] })),
  }
}

/** The limits that lie within a frame. */
function within(limits: NonNullable<ShownSignal['limits']>, { low, high }: Axis) {
  const inside = (limit: number | null) => (limit !== null && limit >= low && limit <= high ? limit : null)
  return {
    lowLow: inside(limits.lowLow),
    low: inside(limits.low),
    high: inside(limits.high),
    highHigh: inside(limits.highHigh),
  }
}

/** Limits of signals in one frame, each once: where all have the same they are drawn once. */
function limitsShared(
  signals: readonly ShownSignal[],
): { signal: ShownSignal; limits: NonNullable<ShownSignal['limits']> }[] {
  const seen = new Set<string>()
  return signals.flatMap((signal) => {
    const { limits } = signal
    if (!limits) return []
    const key = [limits.lowLow, limits.low, limits.high, limits.highHigh, unitOf(signal)].join()
    if (seen.has(key)) return []
    seen.add(key)
    return [{ signal, limits }]
  })
}
