import { type Role as AccessRole, roles } from '@jaunty-sparrow/core/access'
import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'
import { UnitChoices } from './unit.ts'

export const Role = Type.Unsafe<AccessRole>({ type: 'string', enum: [...roles] })
export type Role = Static<typeof Role>

/** What somebody may do: everywhere, and at single sites. */
export const Access = Type.Object(
  {
    everywhere: Type.Union([Role, Type.Null()], {
      description: 'At every site, also at those that come later.',
    }),
    sites: Type.Array(Type.Object({ siteId: Type.Integer(), role: Role }), { maxItems: 1000 }),
  },
  { additionalProperties: false },
)
export type Access = Static<typeof Access>

export const themes = ['system', 'light', 'dark'] as const
export type Theme = (typeof themes)[number]

/** What a person has chosen for themselves. */
export const Preferences = Type.Object(
  {
    language: Type.Union([Type.String({ format: 'language-tag', maxLength: 35 }), Type.Null()], {
      description:
        'How numbers and dates are written, as a BCP 47 tag such as de-CH; null as the browser has it.',
    }),
    theme: Type.Unsafe<Theme>({ type: 'string', enum: [...themes] }),
    units: UnitChoices,
    favourites: Type.Array(Type.Integer(), {
      maxItems: 40,
      uniqueItems: true,
      description: 'Dashboards that are wanted first.',
    }),
    home: Type.Union([Type.String({ maxLength: 200, pattern: '^/(?:$|[^/])' }), Type.Null()], {
      description: 'The page where one begins; null for the one of the sites.',
    }),
  },
  { additionalProperties: false },
)
export type Preferences = Static<typeof Preferences>

export const Person = Type.Object({ id: Type.Integer(), name: Type.String(), access: Access })
export type Person = Static<typeof Person>

export const PersonName = Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' })
export const NewPassword = Type.String({
  minLength: 10,
  maxLength: 200,
  description: 'At least ten characters.',
})

export const Session = Type.Union([
  Type.Object({ state: Type.Literal('first-run') }),
  Type.Object({ state: Type.Literal('signed-out') }),
  Type.Object({
    state: Type.Literal('signed-in'),
    person: Person,
    preferences: Preferences,
    mayForgetPassword: Type.Boolean({
      description: 'Whether a new password may be set without the old one: the session began by a link.',
    }),
    csrfToken: Type.String({
      description: 'To be sent back as X-CSRF-Token with every request that changes something.',
    }),
  }),
])
export type Session = Static<typeof Session>

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
  response: Session,
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
  response: Session,
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
  response: Session,
  status: 201,
})

export const signOut = defineRoute({
  method: 'delete',
  path: '/api/session',
  summary: 'Sign out',
  role: 'signed-in',
  status: 204,
})

/** What lets its bearer in, once. */
export const OneTimeLink = Type.Object({
  token: Type.String({ description: 'To be put behind the # of the address of the page that takes it.' }),
  expiresAt: Type.Integer({ description: 'Epoch milliseconds.' }),
})

export const createSignInLink = defineRoute({
  method: 'post',
  path: '/api/sign-in-links',
  summary: 'Make a link that signs its bearer in as oneself, once, within a day',
  role: 'signed-in',
  response: OneTimeLink,
  status: 201,
})
