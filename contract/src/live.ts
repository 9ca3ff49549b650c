import { type Static, type TProperties, Type } from '@sinclair/typebox'
import { Arrival } from './arrival.ts'
import { Command } from './command.ts'
import { DatedEvent } from './event.ts'
import { Presence } from './presence.ts'
import { SignalValue } from './signal.ts'

/** The version of what is said over `/live`, in every frame; a page that knows another one loads itself again. */
export const liveVersion = 1

/** One reading as it travels over `/live`: measured at, received at, value as calibrated, quality. */
export const LiveReading = Type.Tuple([Type.Integer(), Type.Integer(), SignalValue, Type.Integer()])
export type LiveReading = Static<typeof LiveReading>

/** How many readings of one signal a frame carries at most; what is beyond is skipped and counted. */
export const readingsPerFrame = 32

/** How many messages a frame tells of at most. */
export const arrivalsPerFrame = 50

/** How many signals a page hears of live. */
export const mostSubscriptions = 5000

/** How many it may ask for at once; what is beyond those it can hear of is told. */
const mostAskedFor = 100_000

/** What the page says over `/live`. */
export const LiveRequest = Type.Object(
  {
    subscribe: Type.Optional(Type.Array(Type.Integer(), { maxItems: mostAskedFor })),
    arrivals: Type.Optional(Type.Boolean({ description: 'Whether to be told of messages as they come in.' })),
    unsubscribe: Type.Optional(Type.Array(Type.Integer(), { maxItems: mostAskedFor })),
    presence: Type.Optional(Type.Boolean({ description: 'Whether to be told how devices do.' })),
    looksAt: Type.Optional(
      Type.Union([Type.Integer(), Type.Null()], {
        description: 'The device whose page is open; how many others look at it is told.',
      }),
    ),
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

/** How a device does, and those of its signals that do otherwise than was told before. */
export const DevicePresence = Type.Object({
  device: Type.Integer(),
  heardAt: Type.Union([Type.Integer(), Type.Null()]),
  presence: Presence,
  signals: Type.Array(Type.Tuple([Type.Integer(), Presence])),
})
export type DevicePresence = Static<typeof DevicePresence>

/** What has changed and should be asked for again. */
export const Changed = Type.Union([
  Type.Object({ what: Type.Literal('device'), address: Type.String() }),
  Type.Object({ what: Type.Literal('devices') }),
  Type.Object({ what: Type.Literal('kit'), kitId: Type.Integer() }),
  Type.Object({ what: Type.Literal('sites') }),
  Type.Object({ what: Type.Literal('dashboards') }),
  Type.Object({ what: Type.Literal('rules') }),
  Type.Object({ what: Type.Literal('alarms') }),
  Type.Object({ what: Type.Literal('notices') }),
])
export type Changed = Static<typeof Changed>

const frame = <K extends string, P extends TProperties>(kind: K, properties: P) =>
  Type.Object({ v: Type.Literal(liveVersion), kind: Type.Literal(kind), ...properties })

/** What the server says over `/live`. A page passes over kinds that it does not know. */
export const LiveFrame = Type.Union([
  frame('snapshot', {
    now: Type.Integer({ description: 'The clock of the server, epoch milliseconds; ages are told by it.' }),
    signals: Type.Array(SignalReadings),
  }),
  frame('readings', { signals: Type.Array(SignalReadings) }),
  frame('presence', { devices: Type.Array(DevicePresence) }),
  frame('arrivals', {
    arrivals: Type.Array(Arrival),
    skipped: Type.Integer({ description: 'Messages left out of this frame because too many came at once.' }),
  }),
  frame('looking', {
    device: Type.Integer(),
    people: Type.Integer({
      description: 'How many who are signed in have its page open, this one included.',
    }),
    strangers: Type.Integer({ description: 'How many look at it by a link.' }),
  }),
  frame('event', { event: DatedEvent }),
  frame('commands', { commands: Type.Array(Command) }),
  frame('changed', { changes: Type.Array(Changed) }),
  frame('problem', {
    problem: Type.Union([Type.Literal('full'), Type.Literal('not-understood')]),
    says: Type.String({ description: 'What was wrong with what the page said, and what came of it.' }),
    left: Type.Integer({ description: 'How many signals were asked for beyond those a page hears of live.' }),
  }),
])
export type LiveFrame = Static<typeof LiveFrame>

/** WebSocket close code when the session has ended: signing in again is the only way on. */
export const sessionEndedCode = 4401

/** The same when a link was withdrawn, or its time is over. */
export const linkEndedCode = 4410
