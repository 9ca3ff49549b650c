import { type QueryOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import uniq from 'lodash-es/uniq.js'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { askedSignal } from '../rollups/askedSignal.ts'
import type { TraceReader } from './traceReader.ts'

export interface TraceParts {
  readonly binder: Binder
  readonly registry: DeviceRegistry
  readonly traces: TraceReader
}

/** The course of signals, as it is drawn. */
export function bindTraces(parts: TraceParts): void {
  parts.binder.bind(routes.getTraces, ({ query }) => tellTraces(parts, query))
}

/** The course of signals as a chart of so many columns needs it. */
export async function tellTraces(
  { registry, traces }: Omit<TraceParts, 'binder'>,
  { signals, from, to, columns }: QueryOf<typeof routes.getTraces>,
): Promise<ResponseOf<typeof routes.getTraces>> {
  if (to <= from) throw new ProblemError('invalid', '"to" must be after "from".')
  // One that is named twice would be corrected twice.
  const asked = uniq(signals.split(',').map(Number)).map((signal) => askedSignal(registry, signal))
  const drawn = await traces.read(asked, { from, to }, columns)
  return drawn.map(({ points, before, after, ...trace }) => ({
    ...trace,
    points: points.map(pair),
    before: before && pair(before),
    after: after && pair(after),
  }))
}

const pair = ([at, value]: readonly [number, number]): [number, number] => [at, value]
