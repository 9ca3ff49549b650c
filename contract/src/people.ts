import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

export const Role = Type.Union([Type.Literal('viewer'), Type.Literal('owner')])
export type Role = Static<typeof Role>

export const Person = Type.Object({ id: Type.Integer(), name: Type.String(), role: Role })
export type Person = Static<typeof Person>

const PersonName = Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' })
const NewPassword = Type.String({ minLength: 10, maxLength: 200, description: 'At least ten characters.' })

export const Session = Type.Union([
  Type.Object({ state: Type.Literal('first-run') }),
  Type.Object({ state: Type.Literal('signed-out') }),
  Type.Object({
    state: Type.Literal('signed-in'),
    person: Person,
    csrfToken: Type.String({
      description: 'To be sent back as X-CSRF-Token with every request that changes something.',
    }),
  }),
])
export type Session = Static<typeof Session>

const SignedIn = Session

export const getSession = defineRoute({
  method: 'get',
  path: '/api/session',
  summary: 'Who is signed in, if anyone, and whether the program still waits for its owner',
  role: 'anyone',
  response: Session,
  status: 200,
})

export const createOwner = defineRoute({
  method: 'post',
  path: '/api/first-run',
  summary: 'Create the owner; works once, while there is nobody yet',
  role: 'anyone',
  body: Type.Object(
    {
      name: PersonName,
      password: NewPassword,
      token: Type.String({
        maxLength: 200,
        description: 'The one that the server printed when it was started last.',
      }),
    },
    { additionalProperties: false },
  ),
  response: SignedIn,
  status: 201,
})

export const signIn = defineRoute({
  method: 'post',
  path: '/api/session',
  summary: 'Sign in with name and password',
  role: 'anyone',
  body: Type.Object(
    { name: PersonName, password: Type.String({ minLength: 1, maxLength: 200 }) },
    { additionalProperties: false },
  ),
  response: SignedIn,
  status: 201,
})

export const signInByLink = defineRoute({
  method: 'post',
  path: '/api/session/link',
  summary: 'Sign in with the token of a one-time link',
  role: 'anyone',
  body: Type.Object(
    { token: Type.String({ minLength: 1, maxLength: 200 }) },
    { additionalProperties: false },
  ),
  response: SignedIn,
  status: 201,
})

export const signOut = defineRoute({
  method: 'delete',
  path: '/api/session',
  summary: 'Sign out',
  role: 'viewer',
  status: 204,
})

export const createSignInLink = defineRoute({
  method: 'post',
  path: '/api/sign-in-links',
  summary: 'Make a link that signs its bearer in as oneself, once, within a day',
  role: 'owner',
  response: Type.Object({ token: Type.String(), expiresAt: Type.Integer() }),
  status: 201,
})
