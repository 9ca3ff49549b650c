/** So many points say something of where they go. */
const least = 8
/** A slope is told where it is so many times its own uncertainty. */
const sure = 4

type Points = readonly (readonly [at: number, value: number])[]

/**
 * How fast values rise or fall, by least squares (NIST/SEMATECH e-Handbook of Statistical Methods, 4.1.4.1), as far as the slope is
 * surely more than noise: readings that follow each other are alike, so its standard error is told as if only every fourth counted.
 * What jumps once and stays goes nowhere: both halves have to go the same way.
 * @param points instants, ms, with values
 * @returns per ms; null where nothing can be said
 */
export function trendOf(points: Points): number | null {
  const whole = points.length < least ? undefined : lineOf(points)
  if (!whole || whole.slope === 0 || Math.abs(whole.slope) <= sure * 2 * whole.error) return null
  const middle = Math.floor(points.length / 2)
  const isBothWays = [points.slice(0, middle), points.slice(middle)].some(
    (half) => Math.sign(lineOf(half)?.slope ?? 0) !== Math.sign(whole.slope),
  )
  return isBothWays ? null : whole.slope
}

/** The line through points, with the standard error of its slope; undefined where there are too few, or all of one instant. */
function lineOf(points: Points): { readonly slope: number; readonly error: number } | undefined {
  const count = points.length
  if (count < least / 2) return undefined
  const [first = [0, 0]] = points
  let [meanAt, meanValue] = [0, 0]
  for (const [at, value] of points) {
    meanAt += (at - first[0]) / count
    meanValue += value / count
  }
  let [squares, products] = [0, 0]
  for (const [at, value] of points) {
    const away = at - first[0] - meanAt
    squares += away * away
    products += away * (value - meanValue)
  }
  if (squares === 0) return undefined
  const slope = products / squares
  let residual = 0
  for (const [at, value] of points) residual += (value - meanValue - slope * (at - first[0] - meanAt)) ** 2
  return { slope, error: Math.sqrt(residual / (count - 2) / squares) }
}
