import { type Static, Type } from '@sinclair/typebox'
import { NewPassword, PersonName, Preferences } from './people.ts'
import { defineRoute } from './route.ts'

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
