import { type Scope, scopes } from '@jaunty-sparrow/core/access'
import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

const ScopeName = Type.Unsafe<Scope>({
  type: 'string',
  enum: [...scopes],
  description: 'read: ask; send: send for some devices; command: operate; manage: change what is described.',
})

const stated = {
  name: Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' }),
  scopes: Type.Array(ScopeName, { minItems: 1, maxItems: scopes.length, uniqueItems: true }),
  siteIds: Type.Union([Type.Array(Type.Integer(), { maxItems: 1000, uniqueItems: true }), Type.Null()], {
    description: 'Where it holds; null for wherever its maker has a role.',
  }),
  devices: Type.Array(Type.String(), {
    maxItems: 1000,
    uniqueItems: true,
    description: 'The addresses of the devices it may send for.',
  }),
  expiresAt: Type.Union([Type.Integer(), Type.Null()], {
    description: 'Epoch milliseconds; null for no end.',
  }),
}

/** A key for a program. It may do what its scopes say, and never more than whoever made it. */
export const ProgramToken = Type.Object({
  id: Type.Integer(),
  ...stated,
  by: Type.String({ description: 'Who made it.' }),
  createdAt: Type.Integer(),
  usedAt: Type.Union([Type.Integer(), Type.Null()], {
    description: 'When it was used last, to the minute; epoch milliseconds.',
  }),
})
export type ProgramToken = Static<typeof ProgramToken>

export const listTokens = defineRoute({
  method: 'get',
  path: '/api/tokens',
  summary: 'The tokens one has made; owners of all sites see everybody\u2019s',
  role: 'signed-in',
  response: Type.Array(ProgramToken),
  status: 200,
})

export const createToken = defineRoute({
  method: 'post',
  path: '/api/tokens',
  summary: 'Make a key for a program; it is in the answer and nowhere else',
  role: 'signed-in',
  body: Type.Object(stated, { additionalProperties: false }),
  response: Type.Object({ token: Type.String(), description: ProgramToken }),
  status: 201,
})

export const withdrawToken = defineRoute({
  method: 'delete',
  path: '/api/tokens/{tokenId}',
  summary: 'Take a token back; it stops at once',
  role: 'signed-in',
  params: Type.Object({ tokenId: Type.Integer() }),
  status: 204,
})
