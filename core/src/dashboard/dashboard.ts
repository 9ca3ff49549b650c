import type { Importance } from '../layout/index.ts'

/** Which signal an instrument shows: one of a device, or in a chapter that repeats, the one that each device or part has of it. */
export type SignalRef = { readonly signal: number } | { readonly definition: number }

/** A drawing in its place: what it shows and how. */
export interface PlacedInstrument {
  readonly id: string
  readonly kind: string
  readonly importance: Importance
  /** What stands above it; null for what its signals are called. */
  readonly title: string | null
  readonly signals: readonly SignalRef[]
  /** What is set for each kind it has been, so that nothing is lost when it becomes another and back. */
  readonly settings: Readonly<Record<string, Readonly<Record<string, unknown>>>>
  /** UCUM code of the unit its numbers are seen in; null for that of the person or the site. */
  readonly unit: string | null
  /** Where its title leads; null for the page of its device. */
  readonly link: string | null
}

/** For what a chapter stands again and again: each device of a kit or at a site, or each part of a device. */
export type Repeat =
  | { readonly each: 'device-of-kit'; readonly kitId: number; readonly siteId: number | null }
  | { readonly each: 'device-at-site'; readonly siteId: number }
  | { readonly each: 'part'; readonly deviceId: number }

/** A titled part of a page. */
export interface Chapter {
  readonly id: string
  /** Empty where it is called what its device or part is called. */
  readonly title: string
  readonly repeat: Repeat | null
  /** Null for a fitting one for each signal of what it repeats for. */
  readonly instruments: readonly PlacedInstrument[] | null
  /** The order on a phone, where it is another one: ids of instruments. */
  readonly phone: readonly string[] | null
}

/** What a page shows. */
export interface Dashboard {
  readonly chapters: readonly Chapter[]
}

/** A dashboard has no more than this. */
export const mostChapters = 60
export const mostInstruments = 120

export const emptyDashboard: Dashboard = { chapters: [] }
