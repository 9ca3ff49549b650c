import type { QuantityFunction } from './quantityFunction.ts'

/** What lies between two points of a table, on a straight line; no number beyond its ends, as nobody measured there. */
export function interpolated(value: number, points: readonly number[]): number {
  for (let i = 0; i + 3 < points.length; i += 2) {
    const [at1, is1, at2, is2] = [points[i] ?? 0, points[i + 1] ?? 0, points[i + 2] ?? 0, points[i + 3] ?? 0]
    if ((value >= at1 && value <= at2) || (value <= at1 && value >= at2))
      return at1 === at2 ? is1 : is1 + ((value - at1) * (is2 - is1)) / (at2 - at1)
  }
  return Number.NaN
}

export const table: QuantityFunction = {
  name: 'table',
  says: 'Between the points of a table, on straight lines: for what was measured and has no formula.',
  takes: ['value', 'at1', 'is1', 'at2', 'is2'].map((name) => ({ name, unit: '' })),
  repeats: 2,
  gives: '',
  source: 'Piecewise linear interpolation (Abramowitz and Stegun, 25.2.1); the points in order.',
  example: 'table(x, 0, 0, 12, 80, 40, 310)',
  of: (value, ...points) => interpolated(value, points),
}
