import type { Importance } from '../layout/index.ts'
import type { Chapter, Dashboard, PlacedInstrument, SignalRef } from './dashboard.ts'

/** A signal as far as it matters where it stands. */
export interface StandingSignal {
  readonly id: number
  readonly definitionId: number
  readonly part: string
  readonly partName: string
  readonly state: string
  readonly isFormer: boolean
}

/** A device as far as it matters where it stands. */
export interface StandingDevice<S extends StandingSignal> {
  readonly id: number
  readonly name: string
  readonly address: string
  readonly siteId: number
  readonly kit: { readonly id: number }
  readonly signals: readonly S[]
}

/** An instrument with the signals it shows just now. */
export interface ResolvedInstrument<S> {
  /** Tells it apart on the page: in a chapter that repeats there are several of one. */
  readonly key: string
  readonly instrument: PlacedInstrument
  readonly signals: readonly S[]
  /** How many it should show that are not there any more, or may not be seen. */
  readonly missing: number
}

/** A chapter as it stands on the page. */
export interface ResolvedChapter<S extends StandingSignal> {
  readonly key: string
  readonly chapter: Chapter
  readonly title: string
  /** Whose it is, where it repeats. */
  readonly device: StandingDevice<S> | null
  readonly instruments: readonly ResolvedInstrument<S>[]
}

/** What is known of instruments: how one is proposed, and how many signals a kind takes. */
export interface Known<S> {
  readonly propose: (signal: S) => { readonly kind: string; readonly importance: Importance }
  readonly most: (kind: string) => number
}

/** Finds out what a dashboard shows, of the devices there are: a chapter that repeats stands once for each. */
export const resolve = <S extends StandingSignal>(
  { chapters }: Dashboard,
  devices: readonly StandingDevice<S>[],
  known: Known<S>,
): ResolvedChapter<S>[] => chapters.flatMap((chapter) => stand(chapter, devices, known))

function stand<S extends StandingSignal>(
  chapter: Chapter,
  devices: readonly StandingDevice<S>[],
  known: Known<S>,
): ResolvedChapter<S>[] {
  const { repeat } = chapter
  if (repeat === null) {
    const every = new Map(devices.flatMap(({ signals }) => signals).map((signal) => [signal.id, signal]))
    const find = (ref: SignalRef) =>
      'signal' in ref ? [every.get(ref.signal)].flatMap((found) => found ?? []) : []
    const instruments = filled(chapter.id, chapter.instruments ?? [], find, known)
    return [{ key: chapter.id, chapter, title: chapter.title, device: null, instruments }]
  }
  if (repeat.each === 'part') {
    const device = devices.find(({ id }) => id === repeat.deviceId)
    if (!device) return []
    const parts = new Map(
      inUse(device).flatMap(({ part, partName }) => (part === '' ? [] : [[part, partName]])),
    )
    return [...parts].map(([part, name]) =>
      standFor(chapter, `${chapter.id}/${part}`, name, device, (signal) => signal.part === part, known),
    )
  }
  return devices
    .filter(
      ({ siteId, kit }) =>
        (repeat.siteId === null || siteId === repeat.siteId) &&
        (repeat.each === 'device-at-site' || kit.id === repeat.kitId),
    )
    .map((device) => standFor(chapter, `${chapter.id}/${device.id}`, device.name, device, () => true, known))
}

function standFor<S extends StandingSignal>(
  chapter: Chapter,
  key: string,
  name: string,
  device: StandingDevice<S>,
  isOf: (signal: S) => boolean,
  known: Known<S>,
): ResolvedChapter<S> {
  const there = inUse(device).filter(isOf)
  const find = (ref: SignalRef) =>
    there.filter((signal) =>
      'definition' in ref ? signal.definitionId === ref.definition : signal.id === ref.signal,
    )
  const instruments =
    chapter.instruments === null
      ? there.map((signal) => {
          const instrument = placed(`${key}/${signal.id}`, known.propose(signal), [{ signal: signal.id }])
          return { key: instrument.id, instrument, signals: [signal], missing: 0 }
        })
      : filled(key, chapter.instruments, find, known)
  const title = chapter.title === '' ? name : `${name}, ${chapter.title}`
  return { key, chapter, title, device, instruments }
}

/** Of like parts one instrument that takes a single signal stands once for each. */
const filled = <S extends StandingSignal>(
  key: string,
  instruments: readonly PlacedInstrument[],
  find: (ref: SignalRef) => S[],
  { most }: Known<S>,
): ResolvedInstrument<S>[] =>
  instruments.flatMap((instrument) => {
    const found = instrument.signals.map(find)
    const missing = found.filter(({ length }) => length === 0).length
    const signals = found.flat()
    const [first] = found
    if (instrument.signals.length === 1 && first && first.length > 1 && most(instrument.kind) === 1)
      return first.map((signal) => ({
        key: `${key}/${instrument.id}/${signal.part}`,
        instrument,
        signals: [signal],
        missing: 0,
      }))
    return [{ key: `${key}/${instrument.id}`, instrument, signals, missing }]
  })

/** An instrument that nobody has set anything of yet. */
export const placed = (
  id: string,
  { kind, importance }: { readonly kind: string; readonly importance: Importance },
  signals: readonly SignalRef[],
): PlacedInstrument => ({
  id,
  kind,
  importance,
  title: null,
  signals,
  settings: {},
  unit: null,
  link: null,
})

/** The signals of a device that it has now, and that a person accepted. */
const inUse = <S extends StandingSignal>({ signals }: StandingDevice<S>): S[] =>
  signals.filter(({ state, isFormer }) => state === 'accepted' && !isFormer)
