/** Into so many parts a rose divides all directions. */
export const petals = 16

/**
 * How often each direction was, as a share of the most frequent one: a rose of the wind.
 * @param directions degrees, clockwise from north
 * @returns one for each petal, the first about north
 */
export function roseOf(directions: Iterable<number>): number[] {
  const counts = new Array<number>(petals).fill(0)
  for (const direction of directions) {
    if (!Number.isFinite(direction)) continue
    const turn = (((direction / 360) % 1) + 1) % 1
    const petal = Math.round(turn * petals) % petals
    counts[petal] = (counts[petal] ?? 0) + 1
  }
  const most = Math.max(...counts)
  return most === 0 ? counts : counts.map((count) => count / most)
}
