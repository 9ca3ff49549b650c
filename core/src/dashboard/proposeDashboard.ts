import groupBy from 'lodash-es/groupBy.js'
import sortBy from 'lodash-es/sortBy.js'
import { scaleOf } from '../instrument/index.ts'
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

type Described = Pick<SignalDefinition, 'kind' | 'unit' | 'shown' | 'range' | 'limits'>

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
  const alike = Object.values(groupBy(numbers, ({ unit }) => unit ?? '')).flatMap(comparable)
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

/** Beyond this the smaller of two would be a flat line in one frame. */
const mostApart = 5

/** Divides signals of one unit into frames: at most three in each, and none much larger than another. */
function comparable<S extends Described>(signals: readonly S[]): S[][] {
  const frames: S[][] = []
  for (const signal of signals) {
    const reach = reachOf(signal)
    const frame = frames.find(
      (there) =>
        there.length < mostTogether &&
        there.every((each) => {
          const other = reachOf(each)
          return (
            reach === undefined ||
            other === undefined ||
            Math.max(reach, other) <= mostApart * Math.min(reach, other)
          )
        }),
    )
    if (frame) frame.push(signal)
    else frames.push([signal])
  }
  return frames
}

/** How far from zero a signal goes; undefined where nobody has said. */
function reachOf(signal: Described): number | undefined {
  const scale = scaleOf(signal)
  return scale && Math.max(Math.abs(scale.low), Math.abs(scale.high))
}
