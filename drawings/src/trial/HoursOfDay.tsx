import type { ReactNode } from 'react'

interface HoursOfDayProps {
  /** How often something was, in each hour of the day. */
  readonly hours: readonly number[]
  /** px */
  readonly width: number
}

/** How high it is, px: room for the bars, the line, and the names of the hours. */
export const hoursHeight = 74
const line = 54
const tallest = 46
const named = [0, 6, 12, 18]

/** At what hours of the day something was, an ink bar for each; where nothing was, the line alone. */
export function HoursOfDay({ hours, width }: HoursOfDayProps): ReactNode {
  const step = width / hours.length
  const most = Math.max(1, ...hours)
  return (
    <g fontSize={12} fill="var(--ink-soft)">
      <path d={`M0 ${line + 0.5}H${width}`} stroke="var(--rule-strong)" />
      {hours.map((count, hour) => {
        const height = (count / most) * tallest
        return count === 0 ? null : (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: an hour is its place
            key={hour}
            data-hour={hour}
            x={hour * step + 1}
            y={line - height}
            width={Math.max(1, step - 2)}
            height={height}
            fill="var(--ink)"
          >
            <title>{`${String(hour).padStart(2, '0')}:00, ${count}`}</title>
          </rect>
        )
      })}
      {named.map((hour) => (
        <text key={hour} x={hour * step} y={line + 16}>
          {String(hour).padStart(2, '0')}
        </text>
      ))}
    </g>
  )
}
