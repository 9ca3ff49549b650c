import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'
import { Choice, SignalKind, SignalValue } from './signal.ts'

export const DoorName = Type.Union([
  Type.Literal('http'),
  Type.Literal('mqtt'),
  Type.Literal('serial'),
  Type.Literal('coap'),
  Type.Literal('file'),
])
export type DoorName = Static<typeof DoorName>

export const ArrivalOutcome = Type.Union([
  Type.Literal('stored'),
  Type.Literal('partly'),
  Type.Literal('refused'),
  Type.Literal('throttled'),
  Type.Literal('unclaimed'),
])
export type ArrivalOutcome = Static<typeof ArrivalOutcome>

/** A message that came in, as it stands in the list of all of them. */
export const Arrival = Type.Object({
  id: Type.Integer(),
  receivedAt: Type.Integer({ description: 'Epoch milliseconds.' }),
  door: DoorName,
  deviceId: Type.Union([Type.Integer(), Type.Null()]),
  sender: Type.String({
    description: 'Whose key it came with, or whom a stranger said to be: an address, or empty.',
  }),
  mediaType: Type.String(),
  tail: Type.String({ description: 'Where below its own address it was sent to.' }),
  topic: Type.String({ description: 'The topic, when it was not below its own address; else empty.' }),
  size: Type.Integer({ description: 'Bytes.' }),
  outcome: ArrivalOutcome,
  byHand: Type.Boolean({ description: 'Whether a person brought it from the past.' }),
  stored: Type.Integer({ description: 'How many readings were stored.' }),
  reason: Type.String({ description: 'Why anything was refused; empty when nothing was.' }),
})
export type Arrival = Static<typeof Arrival>

/** What becomes of one field, by what the signals are now. */
export const ExplainedField = Type.Object({
  record: Type.Integer({ description: 'Which record of a backlog, counted from 0.' }),
  address: Type.String({ description: 'Whose the record is; empty when nobody has the address it names.' }),
  pointer: Type.String(),
  raw: Type.String(),
  signal: Type.Union([
    Type.Object({
      definitionId: Type.Integer(),
      name: Type.String(),
      unit: Type.Union([Type.String(), Type.Null()]),
      kind: SignalKind,
      choices: Type.Array(Choice),
      state: Type.Union([Type.Literal('suggested'), Type.Literal('accepted'), Type.Literal('ignored')]),
    }),
    Type.Null(),
  ]),
  reading: Type.Union([
    Type.Object({
      at: Type.Integer(),
      value: SignalValue,
      raw: Type.Optional(Type.Number({ description: 'What was sent, where it is converted.' })),
      quality: Type.Integer(),
    }),
    Type.Null(),
  ]),
  problem: Type.Union([Type.String(), Type.Null()]),
})
export type ExplainedField = Static<typeof ExplainedField>

/** How a body is understood: its fields, or why it cannot be read. */
export const Explanation = Type.Object({
  failure: Type.Union([Type.String(), Type.Null()]),
  fields: Type.Array(ExplainedField),
  fieldsTotal: Type.Integer({
    description: 'How many fields there are; the list holds the first two hundred.',
  }),
})
export type Explanation = Static<typeof Explanation>

export const listArrivals = defineRoute({
  method: 'get',
  path: '/api/arrivals',
  summary: 'What came in, the newest first',
  role: 'viewer',
  at: 'somewhere',
  query: Type.Object({
    before: Type.Optional(Type.Integer({ description: 'Only those with a lower id: the next page.' })),
    deviceId: Type.Optional(Type.Integer()),
    door: Type.Optional(DoorName),
    outcome: Type.Optional(ArrivalOutcome),
    text: Type.Optional(
      Type.String({ maxLength: 100, description: 'Part of the sender, the reason or a text body.' }),
    ),
    limit: Type.Optional(Type.Integer({ minimum: 1, maximum: 500 })),
  }),
  response: Type.Array(Arrival),
  status: 200,
})

export const getArrival = defineRoute({
  method: 'get',
  path: '/api/arrivals/{arrivalId}',
  summary: 'One message, byte for byte, and how it is understood by what the signals are now',
  role: 'viewer',
  at: 'somewhere',
  params: Type.Object({ arrivalId: Type.Integer() }),
  query: Type.Object({
    deviceId: Type.Optional(
      Type.Integer({ description: 'Whose message it is; absent when the sender was not recognized.' }),
    ),
  }),
  response: Type.Object({
    arrival: Arrival,
    body: Type.String({ description: 'Base64.' }),
    explanation: Type.Union([Explanation, Type.Null()], {
      description: 'Null when the sender was not recognized.',
    }),
  }),
  status: 200,
})

export const tryMessage = defineRoute({
  method: 'post',
  path: '/api/arrivals/try',
  summary: 'Say what would become of a message; nothing is stored',
  role: 'viewer',
  at: 'body',
  body: Type.Object(
    {
      address: Type.String({ maxLength: 60, description: 'Whose key it would come with.' }),
      door: DoorName,
      mediaType: Type.String({
        maxLength: 100,
        description: 'Where the door is told; over MQTT and a serial line it is found out from the bytes.',
      }),
      tail: Type.String({ maxLength: 200, description: 'What stands behind /in/.' }),
      topic: Type.String({ maxLength: 200, description: 'Over MQTT: the whole topic.' }),
      text: Type.String({ maxLength: 60_000 }),
    },
    { additionalProperties: false },
  ),
  response: Explanation,
  status: 200,
})
