import { setImmediate as others } from 'node:timers/promises'
import { type Calibration, calibrate } from '@jaunty-sparrow/core/calibration'
import type { TracePoint } from '@jaunty-sparrow/core/chart'
import {
  aggregate,
  type Counted,
  calibrateSlot,
  coarser,
  type Level,
  levels,
  pageOf,
  readOutlines,
  readReadings,
  readSlots,
  type Slot,
} from '@jaunty-sparrow/core/rollup'
import { isVoid, Quality, type SignalKind } from '@jaunty-sparrow/core/signal'
import groupBy from 'lodash-es/groupBy.js'
import type pg from 'pg'
import { committedAfter } from '../afterCommit/snapshots.ts'
import { type Axis, hasStates, partOf, tableOf } from './axis.ts'
import { duePages, pageAt, pageSeconds } from './duePages.ts'
import { packed } from './rollupPages.ts'

/** A stretch of time, epoch ms: its end is no part of it. */
export interface Span {
  readonly from: number
  readonly to: number
}

/** A signal that is asked for. */
export interface AskedSignal {
  readonly signal: number
  readonly calibrations: readonly Calibration[]
  readonly kind: SignalKind
}

/** What counts beside a span, by signal. */
export interface Beside {
  readonly before: ReadonlyMap<number, Counted>
  readonly after: ReadonlyMap<number, Counted>
}

/** The buckets of a level, by their number since the epoch. */
export type Slots = Map<number, Slot>

interface Page {
  readonly signal: number
  /** Of its buckets, ms; `packed` where it holds readings. */
  readonly level: number
  readonly page: number
  readonly body: Buffer
}

type SignalHours = Map<number, Set<number>>

/** After so many pages others have their turn: whoever looks at much holds up nobody. */
const pagesAtOnce = 100

const hour = pageSeconds * 1000
const hourly: Level = 3_600_000
/** Faults, and what a person marked bad, say nothing of what is measured. */
const counts = `quality & ${Quality.atFault | Quality.markedBad} = 0`
const signalsOf = (asked: readonly AskedSignal[]): number[] => asked.map(({ signal }) => signal)

/**
 * Reads what was: single readings, or what they come to in buckets of a level, corrected. Closed hours are read from their pages;
 * what was touched since is read from the readings themselves, so that every answer is exact at any time.
 */
export class HistoryReader {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /** Readings in order of time, also those that say nothing. */
  async readings(asked: readonly AskedSignal[], span: Span): Promise<Map<number, Counted[]>> {
    const signals = signalsOf(asked)
    const { stale, pages } = await this.#look(signals, packed, span)
    const found = new Map<number, Counted[]>(signals.map((signal) => [signal, []]))
    for (const [index, { signal, page, body }] of pages.entries()) {
      if (stale.get(signal)?.has(page)) continue
      if (index % pagesAtOnce === pagesAtOnce - 1) await others()
      const own = found.get(signal)
      // The first hour and the last are not whole.
      for (const reading of readReadings(body))
        if (reading.at >= span.from && reading.at < span.to) own?.push(reading)
    }
    for (const [signal, rows] of await this.#rows(stale, span, 'value')) found.get(signal)?.push(...rows)
    for (const { signal, calibrations } of asked) {
      const own = found.get(signal) ?? []
      if (stale.has(signal)) own.sort((a, b) => a.at - b.at)
      found.set(signal, corrected(own, calibrations))
    }
    return found
  }

  /**
   * What a picture needs of each bucket, in order of time.
   * @param span from one bucket's beginning to another's
   */
  async outlines(
    asked: readonly AskedSignal[],
    span: Span,
    level: Level,
  ): Promise<Map<number, TracePoint[]>> {
    const found = new Map<number, TracePoint[]>(asked.map(({ signal }) => [signal, []]))
    const stale = await this.#eachPage(asked, span, level, ({ signal, body, ...page }, length, isTold) => {
      const own = found.get(signal)
      if (page.level === packed) {
        for (const { at, value, quality } of readReadings(body))
          if (!isVoid(quality) && isTold(Math.floor(at / length))) own?.push([at, value])
      } else
        for (const { number, points } of readOutlines(body, length)) if (isTold(number)) own?.push(...points)
    })
    for (const [signal, rows] of await this.#rows(stale, span, 'value'))
      for (const { at, value, quality } of rows) if (!isVoid(quality)) found.get(signal)?.push([at, value])
    for (const { signal, calibrations } of asked) {
      const own = found.get(signal) ?? []
      if (stale.has(signal)) own.sort(([a], [b]) => a - b)
      if (calibrations.length > 0)
        found.set(
          signal,
          own.map(([at, value]) => [at, calibrate(calibrations, at, value)]),
        )
    }
    return found
  }

  /**
   * What readings come to, bucket by bucket.
   * @param span from one bucket's beginning to another's
   * @param axis of places one after the other
   */
  async slots(
    asked: readonly AskedSignal[],
    span: Span,
    level: Level,
    axis: Axis = 'value',
  ): Promise<Map<number, Slots>> {
    const found = new Map<number, Slots>(asked.map(({ signal }) => [signal, new Map()]))
    const parts = new Map<number, Slots>(asked.map(({ signal }) => [signal, new Map()]))
    const known = new Map(asked.map((each) => [each.signal, each]))
    const stale = await this.#eachPage(asked, span, level, ({ signal, body, ...page }, length, isTold) => {
      const own = (length === level ? found : parts).get(signal)
      const { calibrations, kind } = known.get(signal) ?? nobody
      const slots =
        page.level === packed
          ? aggregate(readReadings(body), length, hasStates(kind))
          : readSlots(partOf(body, axis), length)
      for (const [number, slot] of slots)
        if (isTold(number)) own?.set(number, calibrateSlot(calibrations, slot))
    })
    const finer = Math.min(level, hourly)
    const rows = await this.#rows(stale, span, axis)
    for (const { signal, calibrations, kind } of asked) {
      const own = parts.get(signal)
      if (!own || !stale.has(signal)) continue
      const readings = corrected(rows.get(signal) ?? [], calibrations)
      for (const [number, slot] of aggregate(readings, finer, hasStates(kind))) own.set(number, slot)
      for (const [number, slot] of coarser(own, level / finer)) found.get(signal)?.set(number, slot)
    }
    return found
  }

  /** What counts beside a span, corrected: the last before it, and the first from its end on. */
  async beside(asked: readonly AskedSignal[], { from, to }: Span): Promise<Beside> {
    const { rows } = await this.#pool.query<[number, boolean, number, number, number]>({
      name: 'readings-beside-span',
      text: `select asked.id, is_before, date_part('epoch', at) * 1000, value, quality
        from unnest($1::int[]) as asked (id), lateral (
          (select true as is_before, at, value, quality from reading
           where signal_id = asked.id and at < to_timestamp($2::float8 / 1000) and ${counts} order by at desc limit 1)
          union all
          (select false, at, value, quality from reading
           where signal_id = asked.id and at >= to_timestamp($3::float8 / 1000) and ${counts} order by at limit 1)) as beside`,
      values: [signalsOf(asked), from, to],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    const corrections = new Map(asked.map(({ signal, calibrations }) => [signal, calibrations]))
    const found = { before: new Map<number, Counted>(), after: new Map<number, Counted>() }
    for (const [signal, isBefore, instant, said, quality] of rows) {
      const at = Math.round(instant)
      const value = calibrate(corrections.get(signal) ?? [], at, said)
      found[isBefore ? 'before' : 'after'].set(signal, { at, value, quality })
    }
    return found
  }

  /**
   * The pages of a level, and the hours that pages do not tell: readings were touched since, which may not even have been followed
   * yet. Asked for at once, so that both are of one instant: in between, one would become the other.
   */
  async #look(
    signals: readonly number[],
    level: number,
    { from, to }: Span,
  ): Promise<{ readonly stale: SignalHours; readonly pages: readonly Page[] }> {
    const [firstHour, lastHour] = [Math.floor(from / hour), Math.floor(to / hour)]
    const [first, last] = level === packed ? [firstHour, lastHour] : [pageOf(level, from), pageOf(level, to)]
    // Where readings come seldom there are no pages of the finest buckets: those of readings, as long as they, stand for them.
    const wanted = level === levels[0] ? [level, packed] : [level]
    const { rows } = await this.#pool.query<[number, number, Buffer | null, number]>({
      name: 'pages-of-span',
      text: `select signal_id, page, null::bytea as body, 0 as level from due_page
          where signal_id = any($1::int[]) and page between $2 and $3
        union all
        select signal_id, hour, null, 0 from consumer, after_commit mark,
          unnest(mark.signals, mark.from_at, mark.to_at) as touched (signal_id, first_at, last_at),
          generate_series(greatest(${pageAt('first_at')}, $2), least(${pageAt('last_at')}, $3)) as hour
          where consumer.name = '${duePages.name}' and ${committedAfter('consumer.seen')} and signal_id = any($1::int[])
        union all
        (select distinct on (signal_id, page) signal_id, page, body, level from rollup_page
          where signal_id = any($1::int[]) and level = any($4::int[]) and page between $5 and $6
          order by signal_id, page, level desc)`,
      values: [signals, firstHour, lastHour, wanted, first, last],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    const stale: SignalHours = new Map()
    const pages: Page[] = []
    for (const [signal, page, body, found] of rows) {
      if (body) pages.push({ signal, level: found, page, body })
      else add(stale, signal, page)
    }
    return { stale, pages: pages.sort((a, b) => a.signal - b.signal || a.page - b.page) }
  }

  /**
   * Reads the pages of a level; of a longer bucket in which an hour is not as it is told, the other hours are told by theirs.
   * @param read is told a page, how long its buckets are, and which of them tell what was
   * @returns the hours that no bucket tells
   */
  async #eachPage(
    asked: readonly AskedSignal[],
    span: Span,
    level: Level,
    read: (page: Page, length: number, isTold: (number: number) => boolean) => void,
  ): Promise<SignalHours> {
    const { stale, pages } = await this.#look(signalsOf(asked), level, span)
    // Where a correction begins within a bucket, it is not corrected as one.
    for (const { signal, calibrations } of asked)
      for (const { validFrom } of calibrations)
        if (validFrom > span.from && validFrom < span.to) add(stale, signal, Math.floor(validFrom / hour))
    const isStale = (signal: number, number: number, length: number): boolean => {
      const hours = stale.get(signal)
      if (!hours) return false
      const end = (number + 1) * length
      for (let at = Math.floor((number * length) / hour); at * hour < end; at++)
        if (hours.has(at)) return true
      return false
    }
    const isInside = (start: number) => start >= span.from && start < span.to
    for (const [index, page] of pages.entries()) {
      if (index % pagesAtOnce === pagesAtOnce - 1) await others()
      read(page, level, (number) => isInside(number * level) && !isStale(page.signal, number, level))
    }
    if (level <= hourly || stale.size === 0) return stale
    const finer = await this.#look([...stale.keys()], hourly, span)
    for (const page of finer.pages)
      read(
        page,
        hourly,
        (number) =>
          isInside(number * hourly) &&
          !isStale(page.signal, number, hourly) &&
          isStale(page.signal, Math.floor((number * hourly) / level), level),
      )
    return stale
  }

  /** The readings of some hours, by signal, in order of time. */
  async #rows(hours: SignalHours, span: Span, axis: Axis): Promise<Map<number, Counted[]>> {
    const spans = [...hours].flatMap(([signal, own]) =>
      runs([...own].sort((a, b) => a - b)).map(([first, last]) => ({
        signal,
        from: Math.max(first * hour, span.from),
        to: Math.min((last + 1) * hour, span.to),
      })),
    )
    if (spans.length === 0) return new Map()
    const { rows } = await this.#pool.query<[number, number, number, number]>({
      name: `readings-of-spans-${axis}`,
      text: `select span.signal_id, date_part('epoch', at) * 1000, ${axis}, quality
        from unnest($1::int[], $2::float8[], $3::float8[]) as span (signal_id, from_at, to_at)
          join ${tableOf(axis)} reading on reading.signal_id = span.signal_id and at >= to_timestamp(from_at / 1000) and at < to_timestamp(to_at / 1000)
        order by span.signal_id, at`,
      values: [spans.map(({ signal }) => signal), spans.map(({ from }) => from), spans.map(({ to }) => to)],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    const own = groupBy(rows, ([signal]) => signal)
    return new Map(
      Object.values(own).map((all) => [
        all[0]?.[0] ?? 0,
        all.map(([, at, value, quality]) => ({ at: Math.round(at), value, quality })),
      ]),
    )
  }
}

const nobody: AskedSignal = { signal: 0, calibrations: [], kind: 'number' }

function add(hours: SignalHours, signal: number, hour: number): void {
  const own = hours.get(signal)
  if (own) own.add(hour)
  else hours.set(signal, new Set([hour]))
}

const corrected = (readings: Counted[], calibrations: readonly Calibration[]): Counted[] =>
  calibrations.length === 0
    ? readings
    : readings.map((reading) => ({ ...reading, value: calibrate(calibrations, reading.at, reading.value) }))

/** Numbers that follow each other, as spans of first and last. */
function runs(sorted: readonly number[]): (readonly [first: number, last: number])[] {
  const found: [number, number][] = []
  for (const number of sorted) {
    const open = found.at(-1)
    if (open && open[1] === number - 1) open[1] = number
    else found.push([number, number])
  }
  return found
}
