import { type Static, Type } from '@sinclair/typebox'
import { Access, OneTimeLink, Person } from './people.ts'
import { defineRoute } from './route.ts'

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
