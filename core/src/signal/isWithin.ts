import type { Span } from './signal.ts'

/** Whether a value lies in a span, whose ends are part of it. */
export const isWithin = (value: number, { low, high }: Span): boolean =>
  (low === null || value >= low) && (high === null || value <= high)
