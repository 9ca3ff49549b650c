/** The value below which a share of the values lies; the middle one for 0.5. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? Number.NaN
}

export const median = (values: readonly number[]): number => quantile(values, 0.5)

/** A number as the table has it. */
export const whole = (value: number): string => Math.round(value).toLocaleString('en')
