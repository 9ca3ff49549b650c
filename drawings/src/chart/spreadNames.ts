/**
 * Places names beside what they name, in order, so that none covers another.
 * @param wanted where each would like to stand, px
 * @param apart how far they stand apart at least, px
 */
export function spreadNames(wanted: readonly number[], apart: number, top: number, bottom: number): number[] {
  const order = wanted.map((y, place) => ({ y, place })).sort((a, b) => a.y - b.y)
  const placed = new Array<number>(wanted.length).fill(0)
  let next = top
  for (const { y, place } of order) {
    placed[place] = Math.max(y, next)
    next = (placed[place] ?? 0) + apart
  }
  // What was pushed beyond the bottom is pushed back up.
  let floor = bottom
  for (const { place } of order.toReversed()) {
    placed[place] = Math.min(placed[place] ?? 0, floor)
    floor = (placed[place] ?? 0) - apart
  }
  return placed
}
