/** Closer than so many px, strokes run together. */
const closest = 2.5

/** A stroke above the line of a strip. */
export interface Stroke {
  /** px from the left end. */
  readonly x: number
  /** px above the line. */
  readonly height: number
}

/**
 * How much came in, as strokes. Where there is too little room for one a count, neighbours are drawn as one. What towers above
 * the usual (a backlog) is cut off at the top: else all else would lie flat.
 * @param came counts of equal spans
 * @param width,height the room for them, px
 */
export function strokes(came: readonly number[], width: number, height: number): Stroke[] {
  const together = Math.max(1, Math.ceil((closest * came.length) / width))
  const sums: number[] = []
  for (const [index, count] of came.entries()) {
    const place = Math.floor(index / together)
    sums[place] = (sums[place] ?? 0) + count
  }
  const some = sums.filter((count) => count > 0).sort((a, b) => a - b)
  const usual = some[Math.floor(some.length * 0.75)] ?? 1
  const apart = (width * together) / came.length
  return sums.flatMap((count, index) =>
    count === 0
      ? []
      : { x: (index + 0.5) * apart, height: Math.max(2, Math.min(1, (0.7 * count) / usual) * height) },
  )
}
