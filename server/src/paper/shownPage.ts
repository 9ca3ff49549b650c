import type { Device, SharedPage, Signal, Trace } from '@jaunty-sparrow/contract'
import { resolve } from '@jaunty-sparrow/core/dashboard'
import { gapOf, secondsOf, signalTitle, storedEvery } from '@jaunty-sparrow/core/signal'
import { nights as nightsOf } from '@jaunty-sparrow/core/sun'
import { localPeriods } from '@jaunty-sparrow/core/time'
import {
  type ShownNote,
  type SpanName,
  seenAs,
  toShown,
  totalOf,
  totalsReach,
  traceSeen,
  type Writing,
} from '@jaunty-sparrow/drawings/instrument'
import type { PageChapter, PageInstrument } from '@jaunty-sparrow/drawings/page'
import { instrumentOf, proposed, settingsOf } from '@jaunty-sparrow/drawings/registry'
import { groupBy, uniq } from 'lodash-es'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { askedSignal } from '../rollups/askedSignal.ts'
import type { TotalsReader } from '../totals/totalsReader.ts'
import type { TraceReader } from '../traces/traceReader.ts'

const hour = 3_600_000
const lengths: Readonly<Record<SpanName, number>> = {
  hour,
  day: 24 * hour,
  week: 7 * 24 * hour,
  month: 30 * 24 * hour,
}
/** As finely as a small picture shows it. */
const columns = 200

export interface PageReaders {
  readonly registry: DeviceRegistry
  readonly traces: TraceReader
  readonly totals: TotalsReader
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
  { registry, traces, totals }: PageReaders,
  { shows }: NonNullable<SharedPage['dashboard']>,
  devices: readonly Device[],
  { timeZone, lat, lon, notes, now }: PagePlace,
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
  const courses = new Map<string, Trace>()
  for (const [span, there] of Object.entries(groupBy(placed, ({ needs }) => needs.span ?? ''))) {
    if (span === '') continue
    const drawn = there
      .flatMap(({ signals }) => signals)
      .filter(({ kind }) => kind !== 'text' && kind !== 'position' && kind !== 'momentary')
    const asked = uniq(drawn.map(({ id }) => id)).map((id) => askedSignal(registry, id))
    const stretch = { from: now - lengths[span as SpanName], to: now }
    for (const trace of await traces.read(asked, stretch, columns))
      courses.set(`${span} ${trace.signal}`, trace as unknown as Trace)
  }
  const deviceOf = new Map(devices.flatMap((device) => device.signals.map(({ id }) => [id, device] as const)))
  const nights = lat === null || lon === null ? [] : nightsOf(now - lengths.week, now, { lat, lon })
  const writing = writingIn(timeZone)
  const instruments = new Map<string, PageInstrument>()
  for (const { key, instrument, signals, drawing, settings, needs } of placed) {
    const by = needs.totals?.by
    const sums =
      by === undefined
        ? undefined
        : await totals.read(
            signals.map(({ id }) => askedSignal(registry, id)),
            localPeriods(now - totalsReach[by], now, by, timeZone),
            now,
          )
    const title = instrument.title ?? (uniq(signals.map(signalTitle)).slice(0, 3).join(', ') || drawing.name)
    instruments.set(key, {
      key,
      title,
      importance: instrument.importance,
      instrument: drawing,
      shown: {
        settings,
        now,
        stretch: { from: now - lengths[needs.span ?? 'hour'], to: now },
        nights,
        notes,
        timeZone,
        writing,
        signals: signals.map((signal) => {
          const device = deviceOf.get(signal.id)
          const shownAs = seenAs(signal, instrument.unit)
          const trace = courses.get(`${needs.span} ${signal.id}`)
          const cadence = secondsOf(signal.cadence) ?? secondsOf(device?.cadence?.cadence ?? null)
          const gap = Math.max(
            (2 * lengths[needs.span ?? 'hour']) / columns,
            gapOf(storedEvery(signal, cadence)),
          )
          return toShown(signal, shownAs, {
            device: device?.name ?? '',
            latest: signal.latest,
            presence: signal.presence,
            trace: trace ? traceSeen(trace, shownAs, gap) : null,
            totals: (sums?.get(signal.id) ?? []).map(({ from, to, ...total }) => ({
              from,
              to,
              value: totalOf(total, needs.totals?.of ?? 'mean', shownAs),
            })),
          })
        }),
      },
    })
  }
  return chapters.map(({ key, title, instruments: there }) => ({
    key,
    title,
    instruments: there.flatMap((each) => instruments.get(each.key) ?? []),
  }))
}

/** Numbers with a point, and the clock of the site: a picture is looked at by whoever passes. */
function writingIn(timeZone: string): Writing {
  const clock = new Intl.DateTimeFormat('en-GB', { timeZone, hour: '2-digit', minute: '2-digit' })
  return { number: (text) => text, clock: (at) => clock.format(at) }
}
