import type { ReactNode } from 'react'
import { type ScaleProps, scaleLine, xOn } from './Scale.tsx'

/** What is asked for: a hollow chestnut tab below the scale. What is stands above it, as a beak. */
export const AskedTab = ({
  value,
  ...scale
}: Pick<ScaleProps, 'low' | 'high' | 'width'> & { value: number }): ReactNode => (
  <path
    data-asked-at={value}
    transform={`translate(${xOn(scale, value)} ${scaleLine})`}
    d="M0 1L6 8V15H-6V8Z"
    fill="var(--paper)"
    stroke="var(--chestnut)"
    strokeWidth={1.75}
  />
)
