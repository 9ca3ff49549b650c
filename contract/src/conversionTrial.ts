import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'
import { Conversion, signalParams } from './signal.ts'

/** What a formula would make of what a device sent last. */
export const ConversionTrial = Type.Object({
  problem: Type.Union([Type.Object({ problem: Type.String(), at: Type.Integer() }), Type.Null()], {
    description: 'Why the formula cannot be read, and the character it is about, from 0.',
  }),
  made: Type.Array(
    Type.Object({
      at: Type.Integer(),
      raw: Type.Number(),
      value: Type.Union([Type.Number(), Type.Null()]),
      problem: Type.Union([Type.String(), Type.Null()]),
    }),
    { description: 'The last messages, the newest first.' },
  ),
  curve: Type.Array(Type.Tuple([Type.Number(), Type.Union([Type.Number(), Type.Null()])]), {
    description: 'What it makes around what was sent: raw and value.',
  }),
})
export type ConversionTrial = Static<typeof ConversionTrial>

export const tryConversion = defineRoute({
  method: 'post',
  path: '/api/signals/{signalId}/conversion',
  summary: 'Say what a formula would make of what the device sent last; nothing is changed',
  role: 'viewer',
  at: 'signal',
  params: signalParams,
  body: Type.Object({ conversion: Conversion }, { additionalProperties: false }),
  response: ConversionTrial,
  status: 200,
})
