/** So many points say something of where they go. */
const least = 8
/** A slope is told where it is so many times its own uncertainty. */
const sure = 4

/**
 * How fast values rise or fall, by least squares (NIST/SEMATECH e-Handbook of Statistical Methods, 4.1.4.1), as far as the slope is
 * surely more than noise: readings that follow each other are alike, so its standard error is told as if only every fourth counted.
 * @param points instants, ms, with values
 * @returns per ms; null where nothing can be said
 */
export function trendOf(points: readonly (readonly [at: number, value: number])[]): number | null {
  const count = points.length
  if (count < least) return null
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
  if (squares === 0) return null
  const slope = products / squares
  let residual = 0
  for (const [at, value] of points) residual += (value - meanValue - slope * (at - first[0] - meanAt)) ** 2
  const error = 2 * Math.sqrt(residual / (count - 2) / squares)
  return Math.abs(slope) > sure * error && slope !== 0 ? slope : null
}
