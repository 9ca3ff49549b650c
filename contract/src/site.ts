import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'
import { UnitChoices } from './unit.ts'

export const siteFields = {
  name: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
  timeZone: Type.String({ format: 'time-zone', description: 'IANA name, such as Europe/Dublin.' }),
}

const seen = { units: UnitChoices }

/** WGS 84, degrees; where it lies tells when it is night there. Null where nobody has said. */
const place = {
  lat: Type.Union([Type.Number({ minimum: -90, maximum: 90 }), Type.Null()]),
  lon: Type.Union([Type.Number({ minimum: -180, maximum: 180 }), Type.Null()]),
}

export const Site = Type.Object({ id: Type.Integer(), ...siteFields, ...place, ...seen })
export type Site = Static<typeof Site>

const params = Type.Object({ siteId: Type.Integer() })

export const getMapTiles = defineRoute({
  method: 'get',
  path: '/api/map',
  summary: 'Whose map may lie under places, with what is owed to those who made it; null where none was set',
  role: 'anyone',
  response: Type.Union([
    Type.Object({
      address: Type.String({
        description: 'Of a tile; {z}, {x} and {y} stand for its zoom, column and row.',
      }),
      credit: Type.String(),
    }),
    Type.Null(),
  ]),
  status: 200,
})

export const listSites = defineRoute({
  method: 'get',
  path: '/api/sites',
  summary: 'All sites, by name',
  role: 'viewer',
  at: 'somewhere',
  response: Type.Array(Site),
  status: 200,
})

export const createSite = defineRoute({
  method: 'post',
  path: '/api/sites',
  summary: 'Create a site',
  role: 'owner',
  at: 'everywhere',
  body: Type.Object(
    { ...siteFields, ...Type.Partial(Type.Object({ ...place, ...seen })).properties },
    { additionalProperties: false },
  ),
  response: Site,
  status: 201,
})

export const changeSite = defineRoute({
  method: 'patch',
  path: '/api/sites/{siteId}',
  summary:
    'Rename a site, move its day to another time zone, say where it lies, or in which units it is seen',
  role: 'owner',
  at: 'site',
  params,
  body: Type.Partial(Type.Object({ ...siteFields, ...place, ...seen }), {
    additionalProperties: false,
    minProperties: 1,
  }),
  response: Site,
  status: 200,
})

export const deleteSite = defineRoute({
  method: 'delete',
  path: '/api/sites/{siteId}',
  summary: 'Delete a site that has no devices',
  role: 'owner',
  at: 'site',
  params,
  status: 204,
})
