import type { NumberReading } from '@jaunty-sparrow/core/derived'
import type pg from 'pg'
import { type Asked, askedInside, neededReadings } from './neededReadings.ts'

/**
 * Reads all that is asked for, piece by piece, however much that is.
 * @param enough stops where more than so many were read
 * @returns of each, in order; undefined where there were more
 */
export async function allReadings(
  client: Pick<pg.ClientBase, 'query'>,
  asked: readonly Asked[],
  enough = Number.POSITIVE_INFINITY,
): Promise<NumberReading[][] | undefined> {
  const all: NumberReading[][] = asked.map(() => [])
  let count = 0
  let rest = asked.map((each, place) => ({ each, place }))
  while (rest.length > 0) {
    const { read, most } = await neededReadings(
      client,
      rest.map(({ each }) => each),
    )
    rest = rest.flatMap(({ each, place }, index) => {
      const rows = read[index] ?? []
      const of = all[place] ?? []
      for (const row of rows) of.push(row)
      count += rows.length
      const last = rows.at(-1)
      return last && rows.length >= most && last.at < each.to
        ? [{ each: askedInside(each.signal, last.at + 1, each.to), place }]
        : []
    })
    if (count > enough) return undefined
  }
  return all
}
