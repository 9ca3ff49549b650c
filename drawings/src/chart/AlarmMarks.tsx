import type { ReactNode } from 'react'

/** An alarm, drawn where it was raised. */
export interface RaisedAlarm {
  readonly id: number
  readonly at: number
  readonly says: string
  /** Whether it was about too little. */
  readonly isLow: boolean
}

interface AlarmMarksProps {
  readonly alarms: readonly RaisedAlarm[]
  /** What is drawn, epoch ms. */
  readonly from: number
  readonly to: number
  readonly x: (at: number) => number
  /** Where time runs along, px. */
  readonly foot: number
}

/** When alarms were raised: a triangle on the line of time, pointing the way it went too far. */
export const AlarmMarks = ({ alarms, from, to, x, foot }: AlarmMarksProps): ReactNode =>
  alarms
    .filter(({ at }) => at >= from && at <= to)
    .map(({ id, at, says, isLow }) => (
      <path
        key={id}
        data-alarm-mark={id}
        transform={`translate(${x(at).toFixed(1)} ${foot})`}
        d={isLow ? 'M-5 -9H5L0 -1Z' : 'M0 -9L5 -1H-5Z'}
        fill="var(--trouble)"
        stroke="var(--paper)"
        strokeWidth={0.75}
      >
        <title>{says}</title>
      </path>
    ))
