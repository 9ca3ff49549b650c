import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

/** Messages nobody is there for: of a key that published to a topic nobody has claimed, or of an address nobody has. */
export const Unclaimed = Type.Object({
  keyId: Type.Union([Type.Integer(), Type.Null()], {
    description: 'The device whose key they came with; null when no device has the address.',
  }),
  sender: Type.String(),
  topic: Type.String({ description: 'Empty when it is the address nobody has.' }),
  messages: Type.Integer(),
  firstAt: Type.Integer(),
  lastAt: Type.Integer(),
  newestId: Type.Integer({ description: 'The newest of them, as an arrival.' }),
  sample: Type.String({ description: 'The beginning of the newest body, as far as it is text.' }),
})
export type Unclaimed = Static<typeof Unclaimed>

export const listUnclaimed = defineRoute({
  method: 'get',
  path: '/api/unclaimed',
  summary: 'What is talking and has not been claimed, the newest first',
  role: 'owner',
  at: 'everywhere',
  response: Type.Array(Unclaimed),
  status: 200,
})

const stated = {
  keyId: Type.Integer({ description: 'The device whose key the messages come with.' }),
  by: Type.Union([Type.Literal('topic'), Type.Literal('field')]),
  place: Type.String({
    minLength: 1,
    maxLength: 200,
    description:
      'By topic: a pattern such as garden/{device}/# or barn/roof/{field}. By field: its JSON Pointer, such as /id.',
  }),
  value: Type.Union([Type.String({ maxLength: 200 }), Type.Null()], {
    description: 'By field: what it holds for this device; null when it holds the address itself.',
  }),
  part: Type.String({
    maxLength: 80,
    pattern: '^[^+#]*$',
    description: 'By topic: which part of the device the fields are of, such as roof; empty for none.',
  }),
  deviceId: Type.Union([Type.Integer(), Type.Null()], {
    description: 'Whose the messages are; null when the topic or the field tells.',
  }),
}

const NewClaim = Type.Object(stated, { additionalProperties: false })

export const Claim = Type.Object({ id: Type.Integer(), ...stated })
export type Claim = Static<typeof Claim>

export const listClaims = defineRoute({
  method: 'get',
  path: '/api/claims',
  summary: 'Whose the messages are that keys send for others',
  role: 'viewer',
  at: 'somewhere',
  response: Type.Array(Claim),
  status: 200,
})

export const createClaim = defineRoute({
  method: 'post',
  path: '/api/claims',
  summary: 'Say whose messages are; those that are kept and were not claimed count from now on',
  role: 'owner',
  at: 'body',
  body: NewClaim,
  response: Type.Object({
    claim: Claim,
    messages: Type.Integer({ description: 'How many kept messages it took up.' }),
    readings: Type.Integer({ description: 'How many readings were in them.' }),
  }),
  status: 201,
})

export const deleteClaim = defineRoute({
  method: 'delete',
  path: '/api/claims/{claimId}',
  summary: 'Give up a claim; what was stored by it stays',
  role: 'owner',
  at: 'claim',
  params: Type.Object({ claimId: Type.Integer() }),
  status: 204,
})
