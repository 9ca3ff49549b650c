import type { ReactNode } from 'react'
import type { ShownSignal } from '../instrument/index.ts'

const names = ['lowLow', 'low', 'high', 'highHigh'] as const

interface NotchesProps {
  readonly limits: ShownSignal['limits']
  /** Brings what is drawn about 0 to its place on the scale. */
  readonly place: (value: number) => string
}

/** A small notch at each limit, its foot pointing into the allowed side. */
export const Notches = ({ limits, place }: NotchesProps): ReactNode =>
  limits &&
  names.map((name) => {
    const limit = limits[name]
    if (limit === null) return null
    const inward = name === 'low' || name === 'lowLow' ? 1 : -1
    return (
      <path
        key={name}
        data-limit={name}
        transform={place(limit)}
        d={`M0 0V-11h${5 * inward}L0 -6`}
        fill="var(--ink)"
        stroke="var(--ink)"
      />
    )
  })

/** A swallow-tailed wedge whose point stands on the scale: solid for now, hollow for before. */
export const Beak = ({ at, isNow }: { readonly at: string; readonly isNow: boolean }): ReactNode => (
  <path
    data-beak={isNow ? 'now' : 'before'}
    transform={at}
    d="M0 -1L-6 -14L0 -10L6 -14Z"
    fill={isNow ? 'var(--ink)' : 'var(--paper)'}
    stroke={isNow ? 'none' : 'var(--ink-soft)'}
  />
)
