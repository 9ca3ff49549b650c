/** How long a state lasted between the readings of a bucket, ms, and how often it changed. */
export interface States {
  readonly changes: number
  /** By the code of the state. */
  readonly lasted: ReadonlyMap<number, number>
}

/**
 * What the readings inside a span come to. What lies between two spans (a difference, a gap, the time in a state) is added when
 * buckets are joined, so that a late reading changes one of them only. Instants are epoch ms.
 */
export interface Bucket {
  readonly count: number
  readonly mean: number
  /** The sum of squared distances from the mean; a sum of squares would lose the digits that matter. */
  readonly m2: number
  readonly first: number
  readonly firstAt: number
  readonly last: number
  readonly lastAt: number
  readonly lowest: number
  readonly lowestAt: number
  readonly highest: number
  readonly highestAt: number
  /** The sum of squared differences of neighbours: tells noise from change (J. von Neumann, 1941). */
  readonly squaredDifferences: number
  /** The longest silence between neighbours, ms. */
  readonly longestGap: number
  /** Of what has states and no numbers. */
  readonly states?: States
}

/**
 * Joins what came to pass in two spans, the earlier first. It is associative, so spans may be joined in any grouping.
 * Mean and M2 are joined as in T. F. Chan, G. H. Golub, R. J. LeVeque, "Updating Formulae and a Pairwise Algorithm for
 * Computing Sample Variances" (1979).
 */
export function join(earlier: Bucket, later: Bucket): Bucket {
  const count = earlier.count + later.count
  const apart = later.mean - earlier.mean
  const step = later.first - earlier.last
  const silence = later.firstAt - earlier.lastAt
  const lowest = later.lowest < earlier.lowest ? later : earlier
  const highest = later.highest > earlier.highest ? later : earlier
  return {
    count,
    mean: earlier.mean + (apart * later.count) / count,
    m2: earlier.m2 + later.m2 + (apart * apart * earlier.count * later.count) / count,
    first: earlier.first,
    firstAt: earlier.firstAt,
    last: later.last,
    lastAt: later.lastAt,
    lowest: lowest.lowest,
    lowestAt: lowest.lowestAt,
    highest: highest.highest,
    highestAt: highest.highestAt,
    squaredDifferences: earlier.squaredDifferences + later.squaredDifferences + step * step,
    longestGap: Math.max(earlier.longestGap, later.longestGap, silence),
    ...(earlier.states && later.states && { states: joinStates(earlier, later, silence) }),
  }
}

function joinStates(earlier: Bucket, later: Bucket, silence: number): States {
  const lasted = new Map(earlier.states?.lasted)
  for (const [code, ms] of later.states?.lasted ?? []) lasted.set(code, (lasted.get(code) ?? 0) + ms)
  lasted.set(earlier.last, (lasted.get(earlier.last) ?? 0) + silence)
  const changes = (earlier.states?.changes ?? 0) + (later.states?.changes ?? 0)
  return { changes: changes + (earlier.last === later.first ? 0 : 1), lasted }
}

type Point = readonly [at: number, value: number]

/** The points of a bucket that a picture needs (M4), in order of time, each once. */
export function outlineOf(first: Point, lowest: Point, highest: Point, last: Point): Point[] {
  const [sooner, later] = lowest[0] <= highest[0] ? [lowest, highest] : [highest, lowest]
  const points = [first]
  if (sooner[0] !== first[0]) points.push(sooner)
  if (later[0] !== sooner[0] && later[0] !== first[0]) points.push(later)
  if (last[0] !== later[0] && last[0] !== first[0]) points.push(last)
  return points
}
