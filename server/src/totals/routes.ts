import { type QueryOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import type { Reading } from '@jaunty-sparrow/core/signal'
import { localPeriods } from '@jaunty-sparrow/core/time'
import groupBy from 'lodash-es/groupBy.js'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { ReadingStore } from '../readings/readingStore.ts'
import { askedSignal } from '../rollups/askedSignal.ts'
import type { Database } from '../store/database.ts'
import { site } from '../store/schema.ts'
import type { TotalsReader } from './totalsReader.ts'

export interface TotalsParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly store: ReadingStore
  readonly totals: TotalsReader
  readonly now: () => number
}

/** So many hours of all signals together are told at once: 24 signals of a year, or one of 25 years. */
const mostHours = 220_000
/** Nothing was measured before. */
const longAgo = Date.UTC(1900, 0)

/** What signals come to by days and months, and what they said last at an instant. */
export function bindTotals(parts: TotalsParts): void {
  const { binder, registry, store } = parts
  binder.bind(routes.getTotals, ({ query }) => tellTotals(parts, query))
  binder.bind(routes.getLastReadings, ({ query }) => tellLastReadings(parts, query))
  binder.bind(routes.getReadingsAt, async ({ query: { signals, at } }) => {
    const readings = await store.lastAt(signals.split(',').map(Number), at)
    return readings.map(registry.calibrations.outward).map(withoutRaw)
  })
}

/** What signals come to, as it is told to whoever asks. @param notBefore epoch ms; what began before is none of theirs */
export async function tellTotals(
  { database, registry, totals, now }: Pick<TotalsParts, 'database' | 'registry' | 'totals' | 'now'>,
  { signals, from, to, by }: QueryOf<typeof routes.getTotals>,
  notBefore = -Infinity,
): Promise<ResponseOf<typeof routes.getTotals>> {
  if (to <= from) throw new ProblemError('invalid', '"to" must be after "from".')
  const numbers = signals.split(',').map(Number)
  if (((to - from) / 3_600_000) * numbers.length > mostHours)
    throw new ProblemError(
      'invalid',
      'That is too much at once: ask for a shorter span, or for fewer signals.',
    )
  const sites = await database.select({ id: site.id, timeZone: site.timeZone }).from(site)
  const zoneOf = (signal: number): string => {
    const siteId = registry.get(registry.signal(signal)?.address ?? '')?.siteId
    return sites.find(({ id }) => id === siteId)?.timeZone ?? 'UTC'
  }
  const found = new Map<number, Awaited<ReturnType<TotalsReader['read']>>>()
  for (const [zone, own] of Object.entries(groupBy(numbers, zoneOf))) {
    const asked = own.map((signal) => askedSignal(registry, signal))
    const periods = localPeriods(from, to, by, zone).filter((period) => period.from >= notBefore)
    const read = await totals.read(asked, periods, now())
    for (const signal of own) found.set(signal, read)
  }
  return numbers.map((signal) => ({ signal, totals: found.get(signal)?.get(signal) ?? [] }))
}

/** The last readings of signals, as they are told to whoever asks. @param notBefore epoch ms */
export async function tellLastReadings(
  { registry, store }: Pick<TotalsParts, 'registry' | 'store'>,
  { signals, from, to, most }: QueryOf<typeof routes.getLastReadings>,
  notBefore = -Infinity,
): Promise<ResponseOf<typeof routes.getLastReadings>> {
  const stretch = { from: Math.max(from ?? longAgo, notBefore), to }
  const found = await store.last(signals.split(',').map(Number), stretch, most, from !== undefined)
  return found.map(registry.calibrations.outward).map(withoutRaw)
}

const withoutRaw = ({ raw: _, ...reading }: Reading) => reading
