import type { Presence } from '@jaunty-sparrow/core/presence'
import type { SignalDefinition, SignalValue } from '@jaunty-sparrow/core/signal'
import type { RaisedAlarm } from '../chart/index.ts'

export type Point = readonly [at: number, value: number]

/** The course of a signal, in the unit it is seen in. */
export interface ShownTrace {
  readonly points: readonly Point[]
  /** The last one before what is drawn, which holds into it. */
  readonly before: Point | null
  /** A longer silence, ms, says nothing. */
  readonly gap: number
}

/** What the readings of an hour, a day or a month come to. */
export interface ShownTotal {
  /** Epoch ms. */
  readonly from: number
  readonly to: number
  readonly value: number | null
}

/** A single reading, in the unit it is seen in. */
export interface ShownReading {
  readonly at: number
  readonly value: SignalValue
  /** What the value means, where that is a fault. */
  readonly fault: string | null
}

type Described = Pick<
  SignalDefinition,
  'origin' | 'kind' | 'unit' | 'decimals' | 'shown' | 'range' | 'limits' | 'bands' | 'choices'
>

/** A signal as an instrument draws it: everything in the unit it is seen in. */
export interface ShownSignal extends Described {
  readonly id: number
  /** What it is called on its device, and what its device is called. */
  readonly title: string
  readonly device: string
  readonly latest: { readonly at: number; readonly value: SignalValue; readonly quality: number } | null
  /** What its latest value means, where that is a fault. */
  readonly fault: string | null
  readonly presence: Presence
  /** What it was asked for, as long as that is open: a wish is no fact. */
  readonly asked: { readonly value: SignalValue; readonly state: 'requested' | 'sent' } | null
  /** Why somebody does not trust it. */
  readonly doubt: string | null
  readonly isCalibrated: boolean
  readonly trace: ShownTrace | null
  /** The oldest first, up to the latest. */
  readonly readings: readonly ShownReading[]
  readonly totals: readonly ShownTotal[]
}

/** How things are written where they are looked at. */
export interface Writing {
  /** A number that was written with a point. */
  readonly number: (text: string) => string
  /** A time of the clock there, epoch ms. */
  readonly clock: (at: number) => string
}

/** What happened, drawn where its time is drawn. */
export interface ShownNote {
  readonly id: number
  readonly at: number
  readonly says: string
}

interface Stretch {
  readonly from: number
  readonly to: number
}

/** Everything an instrument is drawn from. */
export interface Shown<S = Record<string, unknown>> {
  readonly settings: S
  readonly signals: readonly ShownSignal[]
  /** The moment that is shown, epoch ms: now, or one of the past. */
  readonly now: number
  /** What its traces cover, epoch ms. */
  readonly stretch: Stretch
  readonly nights: readonly Stretch[]
  readonly notes: readonly ShownNote[]
  /** What its signals were asked for, and when. */
  readonly commands: readonly ShownNote[]
  /** When alarms of its signals were raised. */
  readonly alarms: readonly RaisedAlarm[]
  readonly timeZone: string
  /** Whose map lies under places, where one may be had; {z}, {x} and {y} stand for zoom, column and row. */
  readonly tiles: { readonly address: string; readonly credit: string } | null
  readonly writing: Writing
  /** px */
  readonly width: number
}

/** The latest value as a number, as far as it says something. */
export const numberOf = ({ latest, fault }: ShownSignal): number | undefined =>
  typeof latest?.value === 'number' && fault === null ? latest.value : undefined
