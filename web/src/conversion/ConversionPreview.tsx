import type { ConversionTrial, Signal } from '@jaunty-sparrow/contract'
import { isWithin } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { extent } from 'd3-array'
import { shortly } from '../language/shortly.ts'
import { clockOf } from '../time/clock.ts'

interface ConversionPreviewProps {
  readonly trial: ConversionTrial
  readonly unit: string
  readonly range: Signal['range']
}

const mostRows = 5

/** What was sent last and what the formula makes of it, and its course around that. */
export function ConversionPreview({ trial, unit, range }: ConversionPreviewProps) {
  if (trial.made.length === 0)
    return (
      <p className="text-sm text-ink-soft">
        No message with this field is kept; what the formula makes is shown when one comes in.
      </p>
    )
  const beyond = trial.made.filter(({ value }) => value !== null && !isWithin(value, range)).length
  const symbol = unitSymbol(unit)
  return (
    <div className="grid gap-3 rounded-md bg-well p-3 sm:grid-cols-[auto_minmax(0,1fr)]">
      <table className="self-start text-sm tabular-nums">
        <thead className="text-left text-ink-soft">
          <tr>
            <th className="pr-4 font-normal">came in</th>
            <th className="pr-4 text-right font-normal">sent</th>
            <th className="text-right font-normal">makes</th>
          </tr>
        </thead>
        <tbody>
          {trial.made.slice(0, mostRows).map(({ at, raw, value, problem }, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: records of one backlog came in at the same instant
            <tr key={place}>
              <td className="pr-4 text-ink-soft">{clockOf(at)}</td>
              <td className="pr-4 text-right font-mono">{shortly(raw)}</td>
              <td className="text-right font-semibold">
                {value === null ? <span title={problem ?? ''}>nothing</span> : `${shortly(value)} ${symbol}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Curve trial={trial} symbol={symbol} />
      {trial.made[0]?.problem && (
        <p className="text-sm font-semibold text-trouble sm:col-span-2">
          Of what came last it makes nothing: {trial.made[0].problem}.
        </p>
      )}
      {beyond > 0 && (
        <p className="text-sm font-semibold text-late sm:col-span-2">
          {beyond === trial.made.length ? 'All' : beyond} of the last {trial.made.length} would lie beyond the
          plausible range: is the formula right, or the range?
        </p>
      )}
    </div>
  )
}
const width = 420
const height = 120
const room = { left: 6, right: 6, top: 14, bottom: 16 }

/** The course of the formula around what is sent, with a dot at what came last. */
function Curve({ trial: { curve, made }, symbol }: { trial: ConversionTrial; symbol: string }) {
  const drawn = curve.filter((point): point is [number, number] => point[1] !== null)
  const [least = 0, most = 1] = extent(curve, ([raw]) => raw)
  const [low = 0, high = 1] = extent(drawn, ([, value]) => value)
  if (drawn.length < 2) return null
  const x = (raw: number) =>
    room.left + ((raw - least) / (most - least || 1)) * (width - room.left - room.right)
  const y = (value: number) =>
    height - room.bottom - ((value - low) / (high - low || 1)) * (height - room.top - room.bottom)
  const path = curve
    .map(([raw, value], place) =>
      value === null
        ? ''
        : `${place === 0 || curve[place - 1]?.[1] === null ? 'M' : 'L'}${x(raw)} ${y(value)}`,
    )
    .join('')
  const now = made[0]
  const label = 'text-[11px] fill-(--ink-soft)'
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="w-full max-w-[26rem] justify-self-end"
      role="img"
      aria-label="The course of the formula"
    >
      <line
        x1={room.left}
        x2={width - room.right}
        y1={height - room.bottom}
        y2={height - room.bottom}
        stroke="var(--rule-strong)"
      />
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
      {now?.value !== null && now !== undefined && (
        <circle cx={x(now.raw)} cy={y(now.value)} r="4" fill="var(--ink)" />
      )}
      <text x={room.left} y={height - 4} className={label}>
        {shortly(least)}
      </text>
      <text x={width - room.right} y={height - 4} textAnchor="end" className={label}>
        {shortly(most)} sent
      </text>
      <text x={room.left} y={10} className={label}>
        {shortly(low)} to {shortly(high)} {symbol}
      </text>
    </svg>
  )
}
