import { type CommandState, commandStates } from '@jaunty-sparrow/core/command'
import { type Static, Type } from '@sinclair/typebox'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'
import { SignalValue } from './signal.ts'

const At = Type.Union([Type.Integer(), Type.Null()])
const State = Type.Unsafe<CommandState>({ type: 'string', enum: [...commandStates] })

/** Things are counted in 32 bits. */
const counted = { minimum: 0, maximum: 2 ** 31 - 1 }

/** One request to a controlled signal, with how far it has come. Instants are epoch milliseconds. */
export const Command = Type.Object({
  id: Type.Integer(),
  signalId: Type.Integer(),
  deviceId: Type.Integer(),
  value: SignalValue,
  state: Type.Union([State], {
    description:
      'requested, sent, confirmed by what the device reported, refused, expired, or otherwise: the device reported something else.',
  }),
  requestedAt: Type.Integer(),
  sentAt: At,
  settledAt: At,
  until: Type.Integer({ description: 'When it ceases to hold.' }),
  reported: Type.Union([SignalValue, Type.Null()], {
    description: 'What the device reported since, where that was something else.',
  }),
  answer: Type.String({ description: 'Why it ended as it did; empty where that needs no words.' }),
  person: Type.Union([Type.String(), Type.Null()]),
  token: Type.Union([Type.String(), Type.Null()], {
    description: 'The token by which a program asked in the name of that person.',
  }),
  rule: Type.Union([Type.String(), Type.Null()], {
    description: 'The rule that asked, where no person did.',
  }),
  why: Type.String(),
})
export type Command = Static<typeof Command>

export const requestCommands = defineRoute({
  method: 'post',
  path: '/api/commands',
  summary:
    'Ask controlled signals for a value, several at once if wanted: each is refused or goes its way on its own, and only the device confirms it',
  role: 'operator',
  at: 'body',
  body: Type.Object(
    {
      signals: Type.Array(Type.Integer(), { minItems: 1, maxItems: 100, uniqueItems: true }),
      value: SignalValue,
      why: Type.Optional(
        Type.String({ maxLength: 200, description: 'In a few words, for those who ask later.' }),
      ),
    },
    { additionalProperties: false },
  ),
  response: Type.Array(
    Type.Object({
      signalId: Type.Integer(),
      command: Type.Union([Command, Type.Null()]),
      refused: Type.Union([Type.String(), Type.Null()], {
        description: 'Why it was not even sent; null where it was taken.',
      }),
    }),
  ),
  status: 200,
})

export const listCommands = defineRoute({
  method: 'get',
  path: '/api/commands',
  summary:
    'What was commanded in a span of time, the newest first, at most five hundred; or what is open now',
  role: 'viewer',
  at: 'somewhere',
  query: Type.Object({
    open: Type.Optional(Type.Boolean({ description: 'Only those that have not ended yet.' })),
    from: Type.Optional(Instant),
    to: Type.Optional(Instant),
    deviceId: Type.Optional(Type.Integer(counted)),
    signalId: Type.Optional(Type.Integer(counted)),
    state: Type.Optional(State),
    person: Type.Optional(Type.String({ maxLength: 60 })),
    byRules: Type.Optional(
      Type.Boolean({ description: 'Only what rules asked for, or only what they did not.' }),
    ),
    before: Type.Optional(Type.Integer({ ...counted, description: 'Only those with a lower number.' })),
  }),
  response: Type.Array(Command),
  status: 200,
})
