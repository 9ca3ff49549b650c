import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** Days of sites, as their strips show them. */
const siteDayApi = api.injectEndpoints({
  endpoints: (build) => ({
    siteDay: build.query<
      ResponseOf<typeof routes.getSiteDay>,
      { readonly siteId: number; readonly to: number }
    >({
      query: ({ siteId, to }) => request(routes.getSiteDay, { siteId }, undefined, { to }),
      providesTags: ['SiteDay'],
      keepUnusedDataFor: 120,
    }),
  }),
})

export const { useSiteDayQuery } = siteDayApi
