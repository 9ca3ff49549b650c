/** Each pixel is looked at in so many places along both of its sides: a line that is smoothed is told apart too. */
const finer = 4

/**
 * The picture of a path of `M`, `L`, `H` and `V` with absolute px: the parts of pixels that it touches. Slow and plain: each stretch is
 * walked along in steps shorter than what is told apart.
 */
export function rasterise(path: string): Set<string> {
  const touched = new Set<string>()
  let [x, y] = [0, 0]
  for (const [, command, first = '', second = ''] of path.matchAll(/([MLHV])(-?[\d.]+)(?: (-?[\d.]+))?/g)) {
    const to = {
      x: command === 'V' ? x : Number(first),
      y: command === 'H' ? y : Number(command === 'V' ? first : second),
    }
    if (command !== 'M') {
      const steps = Math.ceil(Math.max(Math.abs(to.x - x), Math.abs(to.y - y)) * finer * 2) + 1
      for (let step = 0; step <= steps; step++) {
        const share = step / steps
        // From the left and from above, so that a stretch walked back touches the same.
        const [ax, bx] = x <= to.x ? [x, to.x] : [to.x, x]
        const isSame = x < to.x || (x === to.x && y <= to.y)
        const [ay, by] = isSame ? [y, to.y] : [to.y, y]
        touched.add(
          `${Math.floor((ax + (bx - ax) * share) * finer)} ${Math.floor((ay + (by - ay) * share) * finer)}`,
        )
      }
    }
    x = to.x
    y = to.y
  }
  return touched
}
