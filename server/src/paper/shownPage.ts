import type { Device, LatestReading, SharedPage, Signal, Total, Trace } from '@jaunty-sparrow/contract'
import { resolve } from '@jaunty-sparrow/core/dashboard'
import { gapOf, secondsOf, signalTitle, storedEvery } from '@jaunty-sparrow/core/signal'
import { nights as nightsOf } from '@jaunty-sparrow/core/sun'
import { localPeriods } from '@jaunty-sparrow/core/time'
import {
  type ShownNote,
  type SpanName,
  seenAs,
  seenSignal,
  spanLengths,
  toShown,
  totalOf,
  totalsReach,
  traceSeen,
  type Writing,
} from '@jaunty-sparrow/drawings/instrument'
import { type PageChapter, type PageInstrument, withRoom } from '@jaunty-sparrow/drawings/page'
import { instrumentOf, proposed, settingsOf } from '@jaunty-sparrow/drawings/registry'
import { groupBy, uniq } from 'lodash-es'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { ReadingStore } from '../readings/readingStore.ts'
import { askedSignal } from '../rollups/askedSignal.ts'
import { tellLastReadings } from '../totals/routes.ts'
import type { TotalsReader } from '../totals/totalsReader.ts'
import type { TraceReader } from '../traces/traceReader.ts'

/** As finely as a small picture shows it. */
const columns = 200

export interface PageReaders {
  readonly registry: DeviceRegistry
  readonly traces: TraceReader
  readonly totals: TotalsReader
  readonly store: ReadingStore
}

/** Where and when a page is drawn. */
export interface PagePlace {
  readonly timeZone: string
  readonly lat: number | null
  readonly lon: number | null
  readonly notes: readonly ShownNote[]
  /** Epoch ms. */
  readonly now: number
}

/** Everything a dashboard is drawn from, read once. */
export async function shownPage(
  { registry, traces, totals, store }: PageReaders,
  { shows }: NonNullable<SharedPage['dashboard']>,
  devices: readonly Device[],
  { timeZone, lat, lon, notes, now }: PagePlace,
  size: { readonly width: number; readonly height: number },
): Promise<PageChapter[]> {
  const chapters = resolve<Signal>(shows, devices, {
    propose: proposed,
    most: (kind) => instrumentOf(kind)?.takes.most ?? 1,
  })
  const placed = chapters
    .flatMap(({ instruments }) => instruments)
    .flatMap((there) => {
      const instrument = instrumentOf(there.instrument.kind)
      if (!instrument) return []
      const settings = settingsOf(instrument, there.instrument.settings[instrument.kind])
      return [{ ...there, drawing: instrument, settings, needs: instrument.needs(settings) }]
    })
  const deviceOf = new Map(devices.flatMap((device) => device.signals.map(({ id }) => [id, device] as const)))
  const nights = lat === null || lon === null ? [] : nightsOf(now - spanLengths.week, now, { lat, lon })
  const writing = writingIn(timeZone)
  const draw = (
    { key, instrument, signals, drawing, settings, needs }: (typeof placed)[number],
    read: Read,
  ): PageInstrument => {
    const title = instrument.title ?? (uniq(signals.map(signalTitle)).slice(0, 3).join(', ') || drawing.name)
    return {
      key,
      title,
      importance: instrument.importance,
      instrument: drawing,
      shown: {
        settings,
        now,
        stretch: { from: now - spanLengths[needs.span ?? 'hour'], to: now },
        nights,
        notes,
        commands: [],
        alarms: [],
        timeZone,
        // A display of paper asks once; nobody fetches maps of others for it.
        tiles: null,
        writing,
        signals: signals.map((signal) => {
          const device = deviceOf.get(signal.id)
          const shownAs = seenAs(signal, instrument.unit)
          const trace = read.courses.get(`${needs.span} ${signal.id}`)
          const cadence = secondsOf(signal.cadence) ?? secondsOf(device?.cadence?.cadence ?? null)
          const gap = Math.max(
            (2 * spanLengths[needs.span ?? 'hour']) / columns,
            gapOf(storedEvery(signal, cadence)),
          )
          return toShown(seenSignal(signal, shownAs), {
            readings: read.single.get(key)?.get(signal.id) ?? [],
            device: device?.name ?? '',
            latest: signal.latest,
            presence: signal.presence,
            // A sheet of paper tells what is.
            asked: null,
            trace: trace ? traceSeen(trace, shownAs, gap) : null,
            totals: (read.sums.get(key)?.get(signal.id) ?? []).map(({ from, to, ...total }) => ({
              from,
              to,
              value: totalOf(total, needs.totals?.of ?? 'mean', shownAs),
            })),
          })
        }),
      },
    }
  }
  const pageOf = (read: Read): PageChapter[] =>
    chapters.map(({ key, title, instruments }) => ({
      key,
      title,
      instruments: instruments.flatMap((each) => {
        const there = placed.find((one) => one.key === each.key)
        return there ? [draw(there, read)] : []
      }),
    }))
  // Where things stand follows from what is known already; only of what has room is more read.
  const room = withRoom({ chapters: pageOf(nothingRead), ...size })
  const wanted = placed.filter(({ key }) => room.has(key))
  const courses = new Map<string, Trace>()
  for (const [span, there] of Object.entries(groupBy(wanted, ({ needs }) => needs.span ?? ''))) {
    if (span === '') continue
    const drawn = there
      .flatMap(({ signals }) => signals)
      .filter(({ kind }) => kind !== 'text' && kind !== 'position' && kind !== 'momentary')
    const asked = uniq(drawn.map(({ id }) => id)).map((id) => askedSignal(registry, id))
    const stretch = { from: now - spanLengths[span as SpanName], to: now }
    for (const trace of await traces.read(asked, stretch, columns))
      courses.set(`${span} ${trace.signal}`, trace as unknown as Trace)
  }
  const sums: Map<string, ReadonlyMap<number, readonly Total[]>> = new Map()
  for (const { key, needs, signals } of wanted) {
    const by = needs.totals?.by
    if (by === undefined) continue
    const asked = signals.map(({ id }) => askedSignal(registry, id))
    const periods = localPeriods(now - totalsReach[by], now, by, timeZone)
    sums.set(key, await totals.read(asked, periods, now))
  }
  const single: Map<string, ReadonlyMap<number, readonly LatestReading[]>> = new Map()
  for (const { key, needs, signals } of wanted) {
    if (!needs.readings) continue
    const { most, span } = needs.readings
    const told = await tellLastReadings(
      { registry, store },
      {
        signals: signals.map(({ id }) => id).join(),
        ...(span && { from: now - spanLengths[span] }),
        to: now,
        most,
      },
    )
    single.set(key, new Map(Object.entries(groupBy(told, 'signal')).map(([id, own]) => [Number(id), own])))
  }
  return pageOf({ courses, sums, single })
}

/** What was read for the instruments of a page: courses by span and signal, the rest by instrument and signal. */
interface Read {
  readonly courses: ReadonlyMap<string, Trace>
  readonly sums: ReadonlyMap<string, ReadonlyMap<number, readonly Total[]>>
  readonly single: ReadonlyMap<string, ReadonlyMap<number, readonly LatestReading[]>>
}
const nothingRead: Read = { courses: new Map(), sums: new Map(), single: new Map() }

/** Numbers with a point, and the clock of the site: a picture is looked at by whoever passes. */
function writingIn(timeZone: string): Writing {
  const clock = new Intl.DateTimeFormat('en-GB', { timeZone, hour: '2-digit', minute: '2-digit' })
  return { number: (text) => text, clock: (at) => clock.format(at) }
}
