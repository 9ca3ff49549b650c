type Point = readonly [at: number, value: number]

/**
 * Draws a trace as one SVG path.
 * @param gap a silence longer than this, ms, breaks the line instead of bridging what nobody knows
 * @param stepped holds each value until the next one, as a switch does
 */
export function tracePath(
  points: readonly Point[],
  x: (at: number) => number,
  y: (value: number) => number,
  gap: number,
  stepped: boolean,
): string {
  let path = ''
  let before = Number.NEGATIVE_INFINITY
  for (const [at, value] of points) {
    const px = x(at).toFixed(1)
    const py = y(value).toFixed(1)
    if (at - before > gap) path += `M${px} ${py}`
    else path += stepped ? `H${px}V${py}` : `L${px} ${py}`
    before = at
  }
  return path
}
