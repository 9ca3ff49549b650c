import { type Static, Type } from '@sinclair/typebox'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'

const Point = Type.Tuple([Type.Integer(), Type.Number()])

export const Trace = Type.Object({
  signal: Type.Integer(),
  points: Type.Array(Point, {
    description:
      'Instants in epoch milliseconds with their values, thinned to what the asked number of pixels can show.',
  }),
  width: Type.Number({
    description:
      'How wide the columns are that it was thinned to, ms; of each at most the first, lowest, highest and last are told.',
  }),
  before: Type.Union([Point, Type.Null()], { description: 'The last one before the span.' }),
  after: Type.Union([Point, Type.Null()], { description: 'The first one after it.' }),
})
export type Trace = Static<typeof Trace>

const SignalList = Type.String({
  pattern: '^\\d{1,9}(,\\d{1,9}){0,99}$',
  description: 'Numbers of up to 100 signals, with commas.',
})

export const followReadings = defineRoute({
  method: 'get',
  path: '/api/live',
  summary: 'Readings of signals as they come in, as server-sent events; each holds a frame as over /live',
  role: 'viewer',
  at: 'signals',
  query: Type.Object({ signals: SignalList }),
  streams: true,
  status: 200,
})

export const getTraces = defineRoute({
  method: 'get',
  path: '/api/traces',
  summary: 'The course of signals over any span, as it is drawn',
  role: 'viewer',
  at: 'signals',
  query: Type.Object({
    signals: SignalList,
    from: Instant,
    to: Instant,
    columns: Type.Integer({
      minimum: 10,
      maximum: 4000,
      description: 'Pixel columns the trace is drawn on.',
    }),
  }),
  response: Type.Array(Trace),
  status: 200,
})
