import { type Static, Type } from '@sinclair/typebox'
import { Arrival } from './arrival.ts'

/** One reading as it travels over `/live`: measured at, received at, value, quality. */
export const LiveReading = Type.Tuple([Type.Integer(), Type.Integer(), Type.Number(), Type.Integer()])
export type LiveReading = Static<typeof LiveReading>

/** How many readings of one signal a frame carries at most; what is beyond is skipped and counted. */
export const readingsPerFrame = 32

/** How many messages a frame tells of at most. */
export const arrivalsPerFrame = 50

export const mostSubscriptions = 5000

/** What the page says over `/live`. */
export const LiveRequest = Type.Object(
  {
    subscribe: Type.Optional(Type.Array(Type.Integer(), { maxItems: mostSubscriptions })),
    arrivals: Type.Optional(Type.Boolean({ description: 'Whether to be told of messages as they come in.' })),
    unsubscribe: Type.Optional(Type.Array(Type.Integer(), { maxItems: mostSubscriptions })),
  },
  { additionalProperties: false, minProperties: 1 },
)
export type LiveRequest = Static<typeof LiveRequest>

const SignalReadings = Type.Object({
  signal: Type.Integer(),
  readings: Type.Array(LiveReading),
  skipped: Type.Integer({
    description: 'Readings left out of this frame; they are stored, ask for the trace to see them.',
  }),
})

/** What the server says over `/live`. */
export const LiveFrame = Type.Union([
  Type.Object({
    kind: Type.Literal('snapshot'),
    now: Type.Integer({ description: 'The clock of the server, epoch milliseconds; ages are told by it.' }),
    signals: Type.Array(SignalReadings),
  }),
  Type.Object({ kind: Type.Literal('readings'), signals: Type.Array(SignalReadings) }),
  Type.Object({
    kind: Type.Literal('arrivals'),
    arrivals: Type.Array(Arrival),
    skipped: Type.Integer({ description: 'Messages left out of this frame because too many came at once.' }),
  }),
  Type.Object({
    kind: Type.Literal('changed'),
    what: Type.Union([Type.Literal('devices'), Type.Literal('sites')], {
      description: 'Which lists have changed and should be asked for again.',
    }),
  }),
])
export type LiveFrame = Static<typeof LiveFrame>

/** WebSocket close code when the session has ended: signing in again is the only way on. */
export const sessionEndedCode = 4401
