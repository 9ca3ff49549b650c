import chunk from 'lodash-es/chunk.js'
import groupBy from 'lodash-es/groupBy.js'
import sortBy from 'lodash-es/sortBy.js'
import type { Importance } from '../layout/index.ts'
import type { SignalDefinition } from '../signal/index.ts'
import type { Dashboard, Repeat, SignalRef } from './dashboard.ts'
import { placed } from './resolve.ts'

/** The page that every site has from the start: each of its devices as a chapter, with all it says. */
export const nowOf = (siteId: number): Dashboard => ({
  chapters: [
    { id: 'now', title: '', repeat: { each: 'device-at-site', siteId }, instruments: null, phone: null },
  ],
})

type Described = Pick<SignalDefinition, 'kind' | 'unit'>

export interface Proposal<S extends Described> {
  /** Of a device, or of a kit that many devices have. */
  readonly signals: readonly S[]
  readonly refOf: (signal: S) => SignalRef
  readonly repeat: Repeat | null
  readonly title: string
  readonly fitting: (signal: S) => { readonly kind: string; readonly importance: Importance }
}

/** Up to three traces are told apart in one frame. */
const mostTogether = 3

/**
 * A dashboard to begin with: states first, then every other signal in its fitting instrument, and beside them the course of the
 * numbers, those of one unit together.
 */
export function proposeDashboard<S extends Described>({
  signals,
  refOf,
  repeat,
  title,
  fitting,
}: Proposal<S>): Dashboard {
  const isState = ({ kind }: S) => kind === 'switch' || kind === 'choice'
  const numbers = signals.filter(({ kind }) => kind === 'number')
  const alike = Object.values(groupBy(numbers, ({ unit }) => unit ?? '')).flatMap((one) =>
    chunk(one, mostTogether),
  )
  const instruments = [
    ...sortBy(signals, (signal) => !isState(signal)).map((signal, place) =>
      placed(`i${place + 1}`, fitting(signal), [refOf(signal)]),
    ),
    ...alike.map((one, place) =>
      placed(`c${place + 1}`, { kind: 'course', importance: 'large' }, one.map(refOf)),
    ),
  ]
  return { chapters: [{ id: 'all', title, repeat, instruments, phone: null }] }
}
