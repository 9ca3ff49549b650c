const minute = 60_000

/** How long the buckets of each level are, ms; each is a whole number of those of the level below. */
export const levels = [minute, 5 * minute, 15 * minute, 60 * minute, 240 * minute, 1440 * minute] as const
export type Level = (typeof levels)[number]

/** So many buckets stand on one page. */
export const bucketsPerPage = 60

/** The page of a level that an instant (epoch ms) is on. */
export const pageOf = (level: number, at: number): number => Math.floor(at / (level * bucketsPerPage))

/** When the first bucket of a page begins, epoch ms. */
export const pageStart = (level: number, page: number): number => page * level * bucketsPerPage

/**
 * A column has at least so many buckets where there is a level for it. Its width is rounded up to whole ones, so at worst there are
 * two columns for three that were asked for: who draws asks for some more than there are pixels.
 */
const leastInColumn = 1.5

/**
 * The coarsest level whose buckets fill columns without remainder; undefined where readings themselves are as quick.
 * @param width of a column, ms
 */
export const levelFor = (width: number): Level | undefined => levels.findLast((level) => width % level === 0)

/**
 * The width of the columns a span is drawn in, ms: at least the span by the columns one asks for, and such that a level fits it.
 * @param span ms
 */
export function columnWidth(span: number, columns: number): number {
  const wanted = span / columns
  const level =
    levels.findLast((each) => each * leastInColumn <= wanted) ?? levels.find((each) => each <= wanted)
  return level === undefined ? wanted : Math.ceil(wanted / level) * level
}
