import { isPosition, Quality, type SignalKind, type SignalValue } from '@jaunty-sparrow/core/signal'
import type { Instrument, Shown, ShownReading, ShownSignal } from '../instrument/index.ts'
import { settingsOf } from '../registry/index.ts'

/** The states that an instrument has a look for. */
export const sampleStates = [
  'at rest',
  'empty',
  'late',
  'silent',
  'at fault',
  'doubtful',
  'corrected',
  'beyond range',
  'beyond limit',
] as const
export type SampleState = (typeof sampleStates)[number]

/** Always the same moment, so that pictures can be compared. */
const now = Date.UTC(2026, 4, 14, 14, 19)
const hour = 3_600_000

/** A value in the midst of a quiet day. */
const wave = (step: number): number => 11.4 + Math.sin(step / 7) * 0.6 + Math.sin(step / 2.3) * 0.1

/** What an instrument shows in a state, from made-up values that are always the same. */
export function sampleOf(instrument: Instrument, state: SampleState, width: number): Shown {
  const kind = kindFor(instrument)
  const isMany = instrument.takes.most > 1
  const signals = ['Upper room', 'Lower room']
    .slice(0, isMany ? 2 : 1)
    .map((device, place) => sampleSignal(kind, device, place, state))
  return {
    settings: settingsOf(instrument, instrument.kind === 'text' ? { words: 'The upper room has {1}.' } : {}),
    signals,
    now,
    stretch: { from: now - hour, to: now },
    nights: [{ from: now - hour, to: now - hour * 0.8 }],
    notes: instrument.kind === 'course' ? [{ id: 1, at: now - hour / 2, says: 'washed down' }] : [],
    commands: [],
    alarms: [],
    timeZone: 'UTC',
    tiles: null,
    writing: { number: (text) => text, clock: (at) => new Date(at).toISOString().slice(11, 16) },
    width,
  }
}

/** A few before the latest one; places on a way that winds. */
const readingsOf = (latest: { at: number; value: SignalValue } | undefined, place: number): ShownReading[] =>
  latest
    ? Array.from({ length: 12 }, (_, step): ShownReading => {
        const left = 11 - step
        const value =
          typeof latest.value === 'number'
            ? latest.value - (left === 0 ? 0 : Math.sin(left + place) / 4)
            : isPosition(latest.value)
              ? { lat: latest.value.lat - left * 0.0003, lon: latest.value.lon + Math.sin(left / 2) * 0.001 }
              : latest.value
        return { at: latest.at - left * 60_000, value, fault: null }
      })
    : []

const kindFor = ({ takes, kind }: Instrument): SignalKind =>
  kind === 'states' ? 'switch' : takes.kinds.includes('number') ? 'number' : (takes.kinds[0] ?? 'number')

function sampleSignal(kind: SignalKind, device: string, place: number, state: SampleState): ShownSignal {
  const isEmpty = state === 'empty'
  const valueAt = (step: number) => (kind === 'switch' ? Number(step % 20 < 8) : wave(step) - place)
  const points = Array.from({ length: isEmpty ? 0 : 60 }, (_, step): [number, number] => [
    now - hour + step * 60_000,
    valueAt(step),
  ])
  const value =
    kind === 'position'
      ? { lat: 52.1 + place * 0.004, lon: -8.6 + place * 0.006 }
      : kind === 'number' && state === 'beyond limit'
        ? 15.2
        : (points.at(-1)?.[1] ?? 0)
  const quality = state === 'at fault' ? Quality.atFault : state === 'beyond range' ? Quality.beyondRange : 0
  const age = state === 'late' ? 180_000 : state === 'silent' ? hour / 2 : 4000
  return {
    id: place + 1,
    title: 'Temperature',
    device,
    origin: 'measured',
    asked: null,
    kind,
    unit: kind === 'number' ? 'Cel' : null,
    decimals: kind === 'number' ? 1 : null,
    shown: { low: 8, high: 16 },
    range: { low: -40, high: 80 },
    limits:
      kind === 'number'
        ? { lowLow: null, low: 10, high: 14, highHigh: null, deadband: 0.2, onDelay: 0, offDelay: 0 }
        : null,
    bands: [
      { name: 'cool', from: null, to: 12 },
      { name: 'warm', from: 12, to: null },
    ],
    choices: [],
    latest: isEmpty ? null : { at: now - age, value, quality },
    fault: state === 'at fault' ? 'probe not connected' : null,
    presence: isEmpty ? 'never' : state === 'late' || state === 'silent' ? state : 'on-time',
    doubt: state === 'doubtful' ? 'its cable is loose' : null,
    isCalibrated: state === 'corrected',
    readings: readingsOf(isEmpty ? undefined : { at: now - age, value }, place),
    trace: { points, before: null, gap: 300_000 },
    totals: isEmpty
      ? []
      : Array.from({ length: 14 }, (_, day) => ({
          from: now - (14 - day) * 24 * hour,
          to: now - (13 - day) * 24 * hour,
          value: 9 + Math.sin(day) * 2,
        })),
  }
}
