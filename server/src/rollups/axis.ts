import { readPlaces } from '@jaunty-sparrow/core/rollup'
import type { SignalKind } from '@jaunty-sparrow/core/signal'

/** What of a reading is rolled up: of a place its latitude and its longitude, each by itself. */
export type Axis = 'value' | 'lat' | 'lon'

export const axesOf = (kind: SignalKind): readonly Axis[] =>
  kind === 'position' ? ['lat', 'lon'] : ['value']

/** Whether the values of a kind are codes of states. */
export const hasStates = (kind: SignalKind): boolean => kind === 'switch' || kind === 'choice'

/** Where the readings are of which an axis is. */
export const tableOf = (axis: Axis): string => (axis === 'value' ? 'reading' : 'position_reading')

/** The part of a page that is of an axis. */
export const partOf = (body: Uint8Array, axis: Axis): Uint8Array =>
  axis === 'value' ? body : readPlaces(body)[axis]
