import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

export const siteFields = {
  name: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
  timeZone: Type.String({ format: 'time-zone', description: 'IANA name, such as Europe/Dublin.' }),
}

export const Site = Type.Object({ id: Type.Integer(), ...siteFields })
export type Site = Static<typeof Site>

const params = Type.Object({ siteId: Type.Integer() })

export const listSites = defineRoute({
  method: 'get',
  path: '/api/sites',
  summary: 'All sites, by name',
  role: 'viewer',
  response: Type.Array(Site),
  status: 200,
})

export const createSite = defineRoute({
  method: 'post',
  path: '/api/sites',
  summary: 'Create a site',
  role: 'owner',
  body: Type.Object(siteFields, { additionalProperties: false }),
  response: Site,
  status: 201,
})

export const changeSite = defineRoute({
  method: 'patch',
  path: '/api/sites/{siteId}',
  summary: 'Rename a site or move its day to another time zone',
  role: 'owner',
  params,
  body: Type.Partial(Type.Object(siteFields), { additionalProperties: false, minProperties: 1 }),
  response: Site,
  status: 200,
})

export const deleteSite = defineRoute({
  method: 'delete',
  path: '/api/sites/{siteId}',
  summary: 'Delete a site that has no devices',
  role: 'owner',
  params,
  status: 204,
})
