import { type Static, Type } from '@sinclair/typebox'
import { NewPassword, OneTimeLink, PersonName, Role, Session } from './people.ts'
import { defineRoute } from './route.ts'

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
  response: Session,
  status: 201,
})
