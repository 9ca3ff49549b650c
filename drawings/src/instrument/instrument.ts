import type { Importance } from '@jaunty-sparrow/core/layout'
import type { SignalKind } from '@jaunty-sparrow/core/signal'
import type { ReactNode } from 'react'
import type { Setting, ValuesOf } from './setting.ts'
import type { Shown, ShownSignal } from './shown.ts'

/** Over which span the signals of an instrument are drawn. */
export const spanNames = ['hour', 'day', 'week', 'month'] as const
export type SpanName = (typeof spanNames)[number]

const hour = 3_600_000

/** How long they are, ms. */
export const spanLengths: Readonly<Record<SpanName, number>> = {
  hour,
  day: 24 * hour,
  week: 7 * 24 * hour,
  month: 30 * 24 * hour,
}

/** What the readings of a signal are added up by. */
export type TotalsBy = 'hour' | 'day' | 'month'

/** What else than its latest values an instrument is drawn from. */
export interface Needs {
  /** The course of its signals, over this span. */
  readonly span?: SpanName
  /** Single readings as they were measured: the last ones, or of a span so many that stand for it. */
  readonly readings?: { readonly most: number; readonly span?: SpanName }
  /** What its signals were asked for. */
  readonly commands?: true
  /** The map of others, where one may be had. */
  readonly tiles?: true
  readonly totals?: {
    readonly by: TotalsBy
    readonly of: 'mean' | 'highest' | 'lowest' | 'increase' | 'lasted'
  }
}

export type Settings = Readonly<Record<string, Setting>>

/** Something that shows one or more signals. Each is one folder and one line in the registry. */
export interface Instrument<P extends Settings = Settings> {
  /** What it is called in a dashboard that is kept. */
  readonly kind: string
  /** What it is called on the screen. */
  readonly name: string
  /** What it is for, in a sentence. */
  readonly purpose: string
  /** Each setting with title and default; the form that edits them is made of it. */
  readonly settings: P
  readonly takes: { readonly kinds: readonly SignalKind[]; readonly most: number }
  /** How well it fits a signal, 0 for not at all; the best one is proposed. */
  readonly fit: (
    signal: Pick<ShownSignal, 'kind' | 'origin' | 'unit' | 'range' | 'shown' | 'limits' | 'bands'>,
  ) => number
  readonly importance: Importance
  readonly needs: (settings: ValuesOf<P>) => Needs
  /** px */
  readonly height: (shown: Shown<ValuesOf<P>>) => number
  readonly Drawing: (shown: Shown<ValuesOf<P>>) => ReactNode
}

/** States an instrument; its settings are typed by its own schema. */
export const defineInstrument = <const P extends Settings>(instrument: Instrument<P>): Instrument =>
  instrument as unknown as Instrument
