import { type Static, Type } from '@sinclair/typebox'
import { DashboardDocument } from './dashboard.ts'
import { getLastReadings, getTotals } from './history.ts'
import { defineRoute } from './route.ts'
import { Signal } from './signal.ts'
import { getTraces, Trace } from './trace.ts'

/** How much of the past a link shows besides the present. */
export const pasts = ['none', 'day', 'all'] as const
export type Past = (typeof pasts)[number]

const PastName = Type.Unsafe<Past>({ type: 'string', enum: [...pasts] })

const common = {
  name: Type.String({
    minLength: 1,
    maxLength: 80,
    pattern: '\\S',
    description: 'The title of the shared page.',
  }),
  past: PastName,
  frameAncestors: Type.Array(Type.String({ pattern: '^https?://[A-Za-z0-9.:\\[\\]-]+$', maxLength: 200 }), {
    maxItems: 20,
    description: 'The origins whose pages may hold it in a frame, such as https://farm.example.',
  }),
  expiresAt: Type.Union([Type.Integer(), Type.Null()], {
    description: 'Epoch milliseconds; null for no end.',
  }),
}

const ofDevice = {
  signalId: Type.Union([Type.Integer(), Type.Null()], {
    description: 'The one signal of a device that is shown; null for all of it.',
  }),
}
const ofDashboard = {
  instrumentId: Type.Union([Type.String({ maxLength: 60 }), Type.Null()], {
    description: 'The one instrument of a dashboard that is shown; null for all of it.',
  }),
}

/** What anybody may look at who has the link. */
export const ShareLink = Type.Object({
  id: Type.Integer(),
  ...common,
  ...ofDevice,
  ...ofDashboard,
  address: Type.Union([Type.String(), Type.Null()], { description: 'Of the device that is shown.' }),
  dashboardId: Type.Union([Type.Integer(), Type.Null()]),
  by: Type.Union([Type.String(), Type.Null()]),
  createdAt: Type.Integer(),
  looks: Type.Integer({ description: 'How often it was opened.' }),
  lookedAt: Type.Union([Type.Integer(), Type.Null()]),
  lookingOn: Type.Integer({ description: 'How many look at it just now, at this server.' }),
})
export type ShareLink = Static<typeof ShareLink>

const deviceParams = Type.Object({ address: Type.String() })

export const listShareLinks = defineRoute({
  method: 'get',
  path: '/api/devices/{address}/links',
  summary: 'The links by which a device is shown to anybody',
  role: 'owner',
  at: 'device',
  params: deviceParams,
  response: Type.Array(ShareLink),
  status: 200,
})

export const createShareLink = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/links',
  summary: 'Make a link by which anybody may look at a device; its token is in the answer and nowhere else',
  role: 'owner',
  at: 'device',
  params: deviceParams,
  body: Type.Object({ ...common, ...ofDevice }, { additionalProperties: false }),
  response: Type.Object({ token: Type.String(), link: ShareLink }),
  status: 201,
})

const dashboardParams = Type.Object({ dashboardId: Type.Integer() })

export const listDashboardLinks = defineRoute({
  method: 'get',
  path: '/api/dashboards/{dashboardId}/links',
  summary: 'The links by which a dashboard is shown to anybody',
  role: 'owner',
  at: 'dashboard',
  params: dashboardParams,
  response: Type.Array(ShareLink),
  status: 200,
})

export const createDashboardLink = defineRoute({
  method: 'post',
  path: '/api/dashboards/{dashboardId}/links',
  summary:
    'Make a link by which anybody may look at a dashboard, as a page or as a picture; its token is in the answer and nowhere else',
  role: 'owner',
  at: 'dashboard',
  params: dashboardParams,
  body: Type.Object({ ...common, ...ofDashboard }, { additionalProperties: false }),
  response: Type.Object({ token: Type.String(), link: ShareLink }),
  status: 201,
})

export const withdrawShareLink = defineRoute({
  method: 'delete',
  path: '/api/links/{linkId}',
  summary: 'Take a link back; whoever looks on sees no more at once',
  role: 'owner',
  at: 'share',
  params: Type.Object({ linkId: Type.Integer() }),
  status: 204,
})

/** What a link shows. */
export const SharedPage = Type.Object({
  name: Type.String(),
  timeZone: Type.String(),
  past: PastName,
  expiresAt: Type.Union([Type.Integer(), Type.Null()]),
  isSingle: Type.Boolean({ description: 'Whether it is one signal, to be drawn as large as there is room.' }),
  lookingOn: Type.Integer(),
  signals: Type.Array(Signal, {
    description: 'Without what only those who work with them need: fields, conversions.',
  }),
  dashboard: Type.Union(
    [
      Type.Object({
        shows: DashboardDocument,
        devices: Type.Array(
          Type.Object({
            id: Type.Integer(),
            name: Type.String(),
            address: Type.String(),
            siteId: Type.Integer(),
            kit: Type.Object({ id: Type.Integer() }),
            signals: Type.Array(Type.Integer(), { description: 'Those of the signals that are of it.' }),
          }),
        ),
      }),
      Type.Null(),
    ],
    { description: 'Null where a device or a signal is shown.' },
  ),
})
export type SharedPage = Static<typeof SharedPage>

const tokenParams = Type.Object({ token: Type.String({ maxLength: 200 }) })

export const getSharedPage = defineRoute({
  method: 'get',
  path: '/api/shared/{token}',
  summary: 'What a link shows, for anybody who has it',
  role: 'anyone',
  params: tokenParams,
  response: SharedPage,
  status: 200,
})

export const getSharedTraces = defineRoute({
  method: 'get',
  path: '/api/shared/{token}/traces',
  summary: 'The course of what a link shows, as far back as it shows it',
  role: 'anyone',
  params: tokenParams,
  query: getTraces.query,
  response: Type.Array(Trace),
  status: 200,
})

export const getSharedTotals = defineRoute({
  method: 'get',
  path: '/api/shared/{token}/totals',
  summary: 'What that which a link shows comes to, as far back as it shows it',
  role: 'anyone',
  params: tokenParams,
  query: getTotals.query,
  response: getTotals.response,
  status: 200,
})

export const getSharedLastReadings = defineRoute({
  method: 'get',
  path: '/api/shared/{token}/readings/last',
  summary: 'The last readings of what a link shows, as far back as it shows it',
  role: 'anyone',
  params: tokenParams,
  query: getLastReadings.query,
  response: getLastReadings.response,
  status: 200,
})

export const getPaper = defineRoute({
  method: 'get',
  path: '/api/shared/{token}/paper.png',
  summary:
    'A dashboard as a still picture in two or four greys, with an ETag and when to come again; for displays of paper',
  role: 'anyone',
  params: tokenParams,
  query: Type.Object({
    width: Type.Integer({ minimum: 100, maximum: 1600, default: 400 }),
    height: Type.Integer({ minimum: 80, maximum: 1600, default: 300 }),
    greys: Type.Unsafe<2 | 4>({ type: 'integer', enum: [2, 4], default: 2 }),
  }),
  media: 'image/png',
  status: 200,
})
