import { routes } from '@jaunty-sparrow/contract'
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
export function bindTraces({ binder, registry, traces }: TraceParts): void {
  binder.bind(routes.getTraces, async ({ query }) => {
    const { signals, from, to, columns } = query
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
  })
}

const pair = ([at, value]: readonly [number, number]): [number, number] => [at, value]
