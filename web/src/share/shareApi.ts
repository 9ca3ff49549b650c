import { type ParamsOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'

/** Links by which anybody may look, and what they show. */
const shareApi = api.injectEndpoints({
  endpoints: (build) => ({
    shareLinks: build.query<ResponseOf<typeof routes.listShareLinks>, ParamsOf<typeof routes.listShareLinks>>(
      {
        query: (params) => request(routes.listShareLinks, params),
        providesTags: ['Links'],
        keepUnusedDataFor: 0,
      },
    ),
    createShareLink: build.mutation<
      ResponseOf<typeof routes.createShareLink>,
      Changing<typeof routes.createShareLink>
    >({
      query: ({ body, ...params }) => request(routes.createShareLink, params, body),
      invalidatesTags: ['Links'],
    }),
    dashboardLinks: build.query<
      ResponseOf<typeof routes.listDashboardLinks>,
      ParamsOf<typeof routes.listDashboardLinks>
    >({
      query: (params) => request(routes.listDashboardLinks, params),
      providesTags: ['Links'],
      keepUnusedDataFor: 0,
    }),
    createDashboardLink: build.mutation<
      ResponseOf<typeof routes.createDashboardLink>,
      Changing<typeof routes.createDashboardLink>
    >({
      query: ({ body, ...params }) => request(routes.createDashboardLink, params, body),
      invalidatesTags: ['Links'],
    }),
    withdrawShareLink: build.mutation<void, number>({
      query: (linkId) => request(routes.withdrawShareLink, { linkId }),
      invalidatesTags: ['Links'],
    }),
    sharedPage: build.query<ResponseOf<typeof routes.getSharedPage>, string>({
      query: (token) => request(routes.getSharedPage, { token }),
    }),
  }),
})

export const {
  useShareLinksQuery,
  useCreateShareLinkMutation,
  useDashboardLinksQuery,
  useCreateDashboardLinkMutation,
  useWithdrawShareLinkMutation,
  useSharedPageQuery,
} = shareApi
