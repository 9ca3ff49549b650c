import {
  type BodyOf,
  type KeptDashboard,
  type ParamsOf,
  type ResponseOf,
  routes,
} from '@jaunty-sparrow/contract'
import type { Dashboard } from '@jaunty-sparrow/core/dashboard'
import { api, type Changing, request } from '../api/api.ts'
import { live } from '../live/connection.ts'

/** What core makes may not be changed, what is sent may: it is the same. */
export const asSent = (shows: Dashboard): KeptDashboard['shows'] => shows as KeptDashboard['shows']

/** Pages that people make. */
const dashboardsApi = api.injectEndpoints({
  endpoints: (build) => ({
    dashboards: build.query<ResponseOf<typeof routes.listDashboards>, void>({
      query: () => request(routes.listDashboards),
      providesTags: ['Dashboards'],
      async onCacheEntryAdded(_, { cacheEntryRemoved, dispatch }) {
        const stop = live.onFrame((frame) => {
          if (frame.kind === 'changed' && frame.changes.some(({ what }) => what === 'dashboards'))
            dispatch(api.util.invalidateTags(['Dashboards']))
        })
        await cacheEntryRemoved
        stop()
      },
    }),
    dashboard: build.query<ResponseOf<typeof routes.getDashboard>, number>({
      query: (dashboardId) => request(routes.getDashboard, { dashboardId }),
      providesTags: ['Dashboards'],
    }),
    createDashboard: build.mutation<
      ResponseOf<typeof routes.createDashboard>,
      BodyOf<typeof routes.createDashboard>
    >({
      query: (body) => request(routes.createDashboard, undefined, body),
      invalidatesTags: ['Dashboards'],
    }),
    publishDashboard: build.mutation<
      ResponseOf<typeof routes.publishDashboard>,
      Changing<typeof routes.publishDashboard>
    >({
      query: ({ body, ...params }) => request(routes.publishDashboard, params, body),
      invalidatesTags: ['Dashboards'],
      // What was published is shown at once, and not what was there until it is asked for again.
      async onQueryStarted({ dashboardId }, { queryFulfilled, dispatch }) {
        const published = await queryFulfilled.catch(() => undefined)
        if (published)
          dispatch(dashboardsApi.util.updateQueryData('dashboard', dashboardId, () => published.data))
      },
    }),
    deleteDashboard: build.mutation<void, ParamsOf<typeof routes.deleteDashboard>>({
      query: (params) => request(routes.deleteDashboard, params),
      invalidatesTags: ['Dashboards'],
    }),
    dashboardVersions: build.query<ResponseOf<typeof routes.listDashboardVersions>, number>({
      query: (dashboardId) => request(routes.listDashboardVersions, { dashboardId }),
      providesTags: ['Dashboards'],
    }),
  }),
})

export const {
  useDashboardsQuery,
  useDashboardQuery,
  useCreateDashboardMutation,
  usePublishDashboardMutation,
  useDeleteDashboardMutation,
  useDashboardVersionsQuery,
} = dashboardsApi
