import type { Total } from '@jaunty-sparrow/contract'
import { type Bucket, joinSlots, type Level, levels, type Slot } from '@jaunty-sparrow/core/rollup'
import type { LocalPeriod } from '@jaunty-sparrow/core/time'
import partition from 'lodash-es/partition.js'
import type { AskedSignal, HistoryReader, Slots } from '../rollups/historyReader.ts'

/** No period is told by longer buckets: days begin at different hours. */
const longest: Level = 3_600_000

/** Reads what signals come to in days or months. */
export class TotalsReader {
  readonly #history: HistoryReader

  constructor(history: HistoryReader) {
    this.#history = history
  }

  /**
   * @param periods that follow each other
   * @param now epoch ms: nothing has been held beyond it
   * @returns for each signal a total for each of the periods
   */
  async read(
    asked: readonly AskedSignal[],
    periods: readonly LocalPeriod[],
    now: number,
  ): Promise<Map<number, Total[]>> {
    const [first, last] = [periods[0], periods.at(-1)]
    if (!first || !last) return new Map(asked.map(({ signal }) => [signal, []]))
    const level = levelWithin(periods)
    const span = { from: first.from, to: last.to }
    const [places, others] = partition(asked, ({ kind }) => kind === 'position')
    const slots = await this.#history.slots(others, span, level)
    const { before } = await this.#history.beside(others, span)
    const lat = await this.#history.slots(places, span, level, 'lat')
    const lon = await this.#history.slots(places, span, level, 'lon')
    return new Map(
      asked.map(({ signal, kind }) => {
        const joinedOf = (found: ReadonlyMap<number, Slots>) =>
          byPeriod(found.get(signal) ?? new Map(), periods, level)
        if (kind === 'position') return [signal, ofPlaces(joinedOf(lat), joinedOf(lon), periods)]
        const joined = joinedOf(slots)
        if (kind === 'number') return [signal, periods.map(plain(joined))]
        return [signal, withStates(joined, periods, before.get(signal)?.value, now)]
      }),
    )
  }
}

/** The longest buckets of which each lies in one period. */
function levelWithin(periods: readonly LocalPeriod[]): Level {
  const fits = (level: Level) => periods.every(({ from, to }) => from % level === 0 && to % level === 0)
  return levels.findLast((level) => level <= longest && fits(level)) ?? levels[0]
}

const nothing: Slot = { bucket: undefined, voids: 0 }

function byPeriod(slots: Slots, periods: readonly LocalPeriod[], level: Level): Slot[] {
  const joined = periods.map(() => nothing)
  let period = 0
  for (const [number, slot] of [...slots].sort(([a], [b]) => a - b)) {
    while (number * level >= (periods[period]?.to ?? Number.POSITIVE_INFINITY)) period++
    joined[period] = joinSlots(joined[period] ?? nothing, slot)
  }
  return joined
}

const plain =
  (joined: readonly Slot[]) =>
  (period: LocalPeriod, index: number): Total =>
    totalOf(period, joined[index] ?? nothing, 0, [])

function ofPlaces(lats: readonly Slot[], lons: readonly Slot[], periods: readonly LocalPeriod[]): Total[] {
  return periods.map((period, index) => {
    const { bucket: lat, voids = 0 } = lats[index] ?? nothing
    const lon = lons[index]?.bucket
    const total = totalOf(period, { bucket: undefined, voids }, 0, [])
    if (!lat || !lon) return total
    const places = {
      first: [lat.firstAt, lat.first, lon.first] as [number, number, number],
      last: [lat.lastAt, lat.last, lon.last] as [number, number, number],
      south: lat.lowest,
      north: lat.highest,
      west: lon.lowest,
      east: lon.highest,
    }
    return { ...total, count: lat.count, places }
  })
}

/** A state is held until the next reading, also from one period into the next. */
function withStates(
  joined: readonly Slot[],
  periods: readonly LocalPeriod[],
  before: number | undefined,
  now: number,
): Total[] {
  let held = before
  return periods.map((period, index) => {
    const slot = joined[index] ?? nothing
    const { bucket } = slot
    const lasted = new Map(bucket?.states?.lasted)
    const add = (state: number | undefined, from: number, to: number) => {
      const ms = Math.min(to, now) - from
      if (state !== undefined && ms > 0) lasted.set(state, (lasted.get(state) ?? 0) + ms)
    }
    const isOther = bucket !== undefined && held !== undefined && held !== bucket.first
    const changes = (bucket?.states?.changes ?? 0) + Number(isOther)
    add(held, period.from, bucket?.firstAt ?? period.to)
    if (bucket) {
      add(bucket.last, bucket.lastAt, period.to)
      held = bucket.last
    }
    return totalOf(period, slot, changes, [...lasted])
  })
}

function totalOf(
  { from, to }: LocalPeriod,
  { bucket, voids }: Slot,
  changes: number,
  lasted: Total['lasted'],
): Total {
  const point = (name: 'lowest' | 'highest' | 'first' | 'last'): [number, number] | null =>
    bucket ? [bucket[`${name}At`], bucket[name]] : null
  return {
    from,
    to,
    count: bucket?.count ?? 0,
    voids,
    mean: bucket?.mean ?? null,
    deviation: bucket ? deviationOf(bucket) : null,
    lowest: point('lowest'),
    highest: point('highest'),
    first: point('first'),
    last: point('last'),
    changes,
    places: null,
    lasted,
  }
}

const deviationOf = ({ m2, count }: Bucket): number => Math.sqrt(m2 / Math.max(1, count - 1))
