import { type Role, roles } from '@jaunty-sparrow/core/access'
import { mostChapters, mostInstruments } from '@jaunty-sparrow/core/dashboard'
import { importances } from '@jaunty-sparrow/core/layout'
import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'
import { UcumCode } from './unit.ts'

/** How long a dashboard may be as it is sent, bytes: pictures are in it. */
export const longestDashboard = 2_000_000

const closed = { additionalProperties: false }
const oneOf = <const T extends readonly string[]>(values: T) =>
  Type.Unsafe<T[number]>({ type: 'string', enum: [...values] })
const Id = Type.String({ minLength: 1, maxLength: 60, pattern: '^[A-Za-z0-9_-]+$' })
const orNone = <T extends Parameters<typeof Type.Union>[0][number]>(of: T, description: string) =>
  Type.Union([of, Type.Null()], { description })

const SignalRef = Type.Union(
  [Type.Object({ signal: Type.Integer() }, closed), Type.Object({ definition: Type.Integer() }, closed)],
  {
    description:
      'A signal of one device, or, in a chapter that repeats, the one that each device or part has by that definition of its kit.',
  },
)

const PlacedInstrument = Type.Object(
  {
    id: Id,
    kind: Type.String({
      minLength: 1,
      maxLength: 40,
      description: 'Which of the instruments; docs/instruments.md has them.',
    }),
    importance: oneOf(importances),
    title: orNone(Type.String({ maxLength: 80 }), 'Null for what its signals are called.'),
    signals: Type.Array(SignalRef, { maxItems: 40 }),
    settings: Type.Record(
      Type.String({ maxLength: 40 }),
      Type.Record(Type.String({ maxLength: 40 }), Type.Unknown()),
      {
        maxProperties: 20,
        description: 'What is set, for each kind it has been.',
      },
    ),
    unit: orNone(UcumCode, 'The unit its numbers are seen in; null for that of the person or the site.'),
    link: orNone(
      Type.String({ maxLength: 500, pattern: '^(?:/|https?://)' }),
      'Where its title leads: a page of this program, or one elsewhere.',
    ),
  },
  closed,
)

const Repeat = Type.Union([
  Type.Object(
    {
      each: Type.Literal('device-of-kit'),
      kitId: Type.Integer(),
      siteId: Type.Union([Type.Integer(), Type.Null()]),
    },
    closed,
  ),
  Type.Object({ each: Type.Literal('device-at-site'), siteId: Type.Integer() }, closed),
  Type.Object({ each: Type.Literal('part'), deviceId: Type.Integer() }, closed),
])

const Chapter = Type.Object(
  {
    id: Id,
    title: Type.String({ maxLength: 80 }),
    repeat: orNone(Repeat, 'For what it stands again and again.'),
    instruments: orNone(
      Type.Array(PlacedInstrument, { maxItems: mostInstruments }),
      'Null for a fitting one for each signal of what it repeats for.',
    ),
    phone: orNone(
      Type.Array(Id, { maxItems: mostInstruments }),
      'The order on a phone, where it is another one.',
    ),
  },
  closed,
)

/** What a page shows, and how. */
export const DashboardDocument = Type.Object(
  { chapters: Type.Array(Chapter, { maxItems: mostChapters }) },
  { ...closed, $id: 'dashboard', title: 'A dashboard of Jaunty Sparrow' },
)

const stated = {
  name: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
  isMine: Type.Boolean({ description: 'Whether only the one who made it sees it.' }),
  role: Type.Unsafe<Role>({
    type: 'string',
    enum: [...roles],
    description: 'Who sees it, of those who look after the site.',
  }),
}

/** A dashboard without what is on it. */
export const DashboardSummary = Type.Object({
  id: Type.Integer(),
  siteId: Type.Integer(),
  ...stated,
  version: Type.Integer({ description: 'Counts up each time it is published.' }),
  publishedAt: Type.Integer({ description: 'Epoch milliseconds.' }),
  by: Type.Union([Type.String(), Type.Null()], { description: 'Who published it last.' }),
})
export type DashboardSummary = Static<typeof DashboardSummary>

export const KeptDashboard = Type.Object({ ...DashboardSummary.properties, shows: DashboardDocument })
export type KeptDashboard = Static<typeof KeptDashboard>

const params = Type.Object({ dashboardId: Type.Integer() })

export const listDashboards = defineRoute({
  method: 'get',
  path: '/api/dashboards',
  summary: 'The dashboards of one’s sites, by name; everyone’s, and one’s own',
  role: 'viewer',
  at: 'somewhere',
  response: Type.Array(DashboardSummary),
  status: 200,
})

export const getDashboard = defineRoute({
  method: 'get',
  path: '/api/dashboards/{dashboardId}',
  summary: 'A dashboard with what it shows',
  role: 'viewer',
  at: 'dashboard',
  params,
  response: KeptDashboard,
  status: 200,
})

export const createDashboard = defineRoute({
  method: 'post',
  path: '/api/dashboards',
  summary: 'Keep a dashboard; one for everyone needs the role of owner at its site',
  role: 'viewer',
  at: 'body',
  body: Type.Object({ siteId: Type.Integer(), ...stated, shows: DashboardDocument }, closed),
  response: KeptDashboard,
  status: 201,
})

export const publishDashboard = defineRoute({
  method: 'put',
  path: '/api/dashboards/{dashboardId}',
  summary:
    'Publish a dashboard anew; refused where somebody else has published since the version it is based on, so that nothing is lost',
  role: 'viewer',
  at: 'dashboard',
  params,
  body: Type.Object(
    {
      basedOn: Type.Integer({ description: 'The version that was changed.' }),
      ...stated,
      shows: DashboardDocument,
    },
    closed,
  ),
  response: KeptDashboard,
  status: 200,
})

export const deleteDashboard = defineRoute({
  method: 'delete',
  path: '/api/dashboards/{dashboardId}',
  summary: 'Throw a dashboard away',
  role: 'viewer',
  at: 'dashboard',
  params,
  status: 204,
})

export const listDashboardVersions = defineRoute({
  method: 'get',
  path: '/api/dashboards/{dashboardId}/versions',
  summary: 'What a dashboard showed before, the newest first, so that one can go back',
  role: 'viewer',
  at: 'dashboard',
  params,
  response: Type.Array(
    Type.Object({
      version: Type.Integer(),
      at: Type.Integer({ description: 'Epoch milliseconds.' }),
      by: Type.Union([Type.String(), Type.Null()]),
      shows: DashboardDocument,
    }),
  ),
  status: 200,
})
