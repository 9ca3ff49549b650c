import { type Static, Type } from '@sinclair/typebox'
import { Derivation } from './derivation.ts'
import { defineRoute } from './route.ts'

/** What would follow from signals as they were of late. */
export const DerivationTrial = Type.Object({
  problem: Type.Union([Type.String(), Type.Null()], { description: 'Why nothing can follow so.' }),
  inputs: Type.Array(
    Type.Object({
      name: Type.String(),
      value: Type.Union([Type.Number(), Type.Null()], {
        description: 'What is taken of it now; null where it says nothing.',
      }),
    }),
  ),
  points: Type.Array(Type.Tuple([Type.Integer(), Type.Number()]), {
    description: 'Of the hour before the last reading: epoch milliseconds and value.',
  }),
})
export type DerivationTrial = Static<typeof DerivationTrial>

export const tryDerivation = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/derivation',
  summary: 'Say what would follow from signals as they were of late; nothing is changed',
  role: 'owner',
  at: 'device',
  params: Type.Object({ address: Type.String() }),
  body: Type.Object({ derivation: Derivation }, { additionalProperties: false }),
  response: DerivationTrial,
  status: 200,
})
