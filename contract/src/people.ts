import { type Role as AccessRole, roles } from '@jaunty-sparrow/core/access'
import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

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
  },
  { additionalProperties: false },
)
export type Preferences = Static<typeof Preferences>

export const Person = Type.Object({ id: Type.Integer(), name: Type.String(), access: Access })
export type Person = Static<typeof Person>

const PersonName = Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' })
const NewPassword = Type.String({ minLength: 10, maxLength: 200, description: 'At least ten characters.' })

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
  role: 'signed-in',
  status: 204,
})

const OneTimeLink = Type.Object({
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

export const changePreferences = defineRoute({
  method: 'patch',
  path: '/api/me',
  summary: 'Change how one is called, and what one prefers',
  role: 'signed-in',
  body: Type.Partial(Type.Object({ name: PersonName, ...Preferences.properties }), {
    additionalProperties: false,
    minProperties: 1,
  }),
  status: 204,
})

export const changePassword = defineRoute({
  method: 'put',
  path: '/api/me/password',
  summary: 'Take a new password; all other sessions end',
  role: 'signed-in',
  body: Type.Object(
    {
      current: Type.Optional(
        Type.String({ maxLength: 200, description: 'Left out in a session that began by a link.' }),
      ),
      password: NewPassword,
    },
    { additionalProperties: false },
  ),
  status: 204,
})

export const OwnSession = Type.Object({
  id: Type.Integer(),
  browser: Type.String({ description: 'What the browser said of itself.' }),
  createdAt: Type.Integer(),
  usedAt: Type.Integer({ description: 'When it was used last, to the hour; epoch milliseconds.' }),
  isThis: Type.Boolean(),
})
export type OwnSession = Static<typeof OwnSession>

export const listSessions = defineRoute({
  method: 'get',
  path: '/api/me/sessions',
  summary: 'Where one is signed in',
  role: 'signed-in',
  response: Type.Array(OwnSession),
  status: 200,
})

export const endSession = defineRoute({
  method: 'delete',
  path: '/api/me/sessions/{sessionId}',
  summary: 'Sign out somewhere else',
  role: 'signed-in',
  params: Type.Object({ sessionId: Type.Integer() }),
  status: 204,
})

export const leave = defineRoute({
  method: 'delete',
  path: '/api/me',
  summary: 'Leave for good: what one has written down stays, and who one was is forgotten',
  role: 'signed-in',
  status: 204,
})

export const leaveSite = defineRoute({
  method: 'delete',
  path: '/api/me/sites/{siteId}',
  summary: 'Give up the role one has at a site',
  role: 'signed-in',
  params: Type.Object({ siteId: Type.Integer() }),
  status: 204,
})

/** Somebody who may look or more, as owners see them. */
export const Member = Type.Object({
  ...Person.properties,
  createdAt: Type.Integer(),
  seenAt: Type.Union([Type.Integer(), Type.Null()], {
    description: 'When they were here last, to the hour; null where they never were.',
  }),
})
export type Member = Static<typeof Member>

export const listPeople = defineRoute({
  method: 'get',
  path: '/api/people',
  summary: 'Who may do what, at the sites one owns',
  role: 'owner',
  at: 'somewhere',
  forPeople: true,
  response: Type.Array(Member),
  status: 200,
})

const personParams = Type.Object({ personId: Type.Integer() })

export const changeAccess = defineRoute({
  method: 'put',
  path: '/api/people/{personId}/access',
  summary: 'Say what somebody may do, at the sites one owns',
  role: 'owner',
  at: 'somewhere',
  forPeople: true,
  params: personParams,
  body: Access,
  status: 204,
})

export const removePerson = defineRoute({
  method: 'delete',
  path: '/api/people/{personId}',
  summary: 'Take everything from somebody, and forget them',
  role: 'owner',
  at: 'everywhere',
  forPeople: true,
  params: personParams,
  status: 204,
})

export const createSignInLinkFor = defineRoute({
  method: 'post',
  path: '/api/people/{personId}/sign-in-links',
  summary: 'Make a link for somebody who has lost their password: it signs in once, within a day',
  role: 'owner',
  at: 'everywhere',
  forPeople: true,
  params: personParams,
  response: OneTimeLink,
  status: 201,
})

/** Who may come in by an invitation, and as what. */
export const Invitation = Type.Object({
  id: Type.Integer(),
  role: Role,
  siteIds: Type.Union([Type.Array(Type.Integer()), Type.Null()], {
    description: 'Null for all sites, also those that come later.',
  }),
  note: Type.String({ description: 'Whom it is for, in words of whoever invites.' }),
  by: Type.Union([Type.String(), Type.Null()]),
  expiresAt: Type.Integer(),
})
export type Invitation = Static<typeof Invitation>

export const listInvitations = defineRoute({
  method: 'get',
  path: '/api/invitations',
  summary: 'Invitations to the sites one owns that nobody has taken yet',
  role: 'owner',
  at: 'somewhere',
  forPeople: true,
  response: Type.Array(Invitation),
  status: 200,
})

export const createInvitation = defineRoute({
  method: 'post',
  path: '/api/invitations',
  summary: 'Invite somebody by a link that works once, within seven days',
  role: 'owner',
  at: 'somewhere',
  forPeople: true,
  body: Type.Object(
    {
      role: Role,
      siteIds: Type.Union([
        Type.Array(Type.Integer(), { minItems: 1, maxItems: 1000, uniqueItems: true }),
        Type.Null(),
      ]),
      note: Type.Optional(Type.String({ maxLength: 80 })),
    },
    { additionalProperties: false },
  ),
  response: OneTimeLink,
  status: 201,
})

export const withdrawInvitation = defineRoute({
  method: 'delete',
  path: '/api/invitations/{invitationId}',
  summary: 'Take an invitation back',
  role: 'owner',
  at: 'somewhere',
  forPeople: true,
  params: Type.Object({ invitationId: Type.Integer() }),
  status: 204,
})

const InvitationToken = Type.String({ minLength: 1, maxLength: 200 })

export const readInvitation = defineRoute({
  method: 'post',
  path: '/api/invitations/read',
  summary: 'What an invitation offers, to whoever holds its link; it is not spent by that',
  role: 'anyone',
  body: Type.Object({ token: InvitationToken }, { additionalProperties: false }),
  response: Type.Object({
    role: Role,
    sites: Type.Union([Type.Array(Type.String()), Type.Null()], { description: 'Null for all sites.' }),
    by: Type.Union([Type.String(), Type.Null()]),
  }),
  status: 200,
})

export const acceptInvitation = defineRoute({
  method: 'post',
  path: '/api/invitations/accept',
  summary: 'Take an invitation: as somebody new, or in addition to what one may already',
  role: 'anyone',
  body: Type.Object(
    {
      token: InvitationToken,
      person: Type.Optional(
        Type.Object({ name: PersonName, password: NewPassword }, { additionalProperties: false }),
      ),
    },
    { additionalProperties: false },
  ),
  response: SignedIn,
  status: 201,
})
