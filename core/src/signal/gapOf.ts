/** From which silence on a line is broken: three missed turns, and at least what one pixel column of an hour hides. */
export const gapOf = (cadence: number | null): number => Math.max((cadence ?? 300) * 3000, 15_000)
