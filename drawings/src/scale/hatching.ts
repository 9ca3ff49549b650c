/** How far apart the strokes of a hatching are, px. */
const apart = 4

/**
 * Slanting strokes that fill a stretch of a scale: beyond the limit.
 * @param left,right,top,bottom px; nothing is drawn outside
 * @returns the `d` of a path
 */
export function hatching(left: number, right: number, top: number, bottom: number): string {
  const height = bottom - top
  let path = ''
  // On a grid of its own, so that it does not swim when an end moves.
  for (let foot = Math.ceil((left - height) / apart) * apart; foot < right; foot += apart) {
    const from = Math.max(foot, left)
    const to = Math.min(foot + height, right)
    if (to > from) path += `M${from} ${bottom - (from - foot)}L${to} ${bottom - (to - foot)}`
  }
  return path
}
