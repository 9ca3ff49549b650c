import { type BodyOf, type ParamsOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'

/** The sites. */
const sitesApi = api.injectEndpoints({
  endpoints: (build) => ({
    sites: build.query<ResponseOf<typeof routes.listSites>, void>({
      query: () => request(routes.listSites),
      providesTags: ['Sites'],
    }),
    createSite: build.mutation<ResponseOf<typeof routes.createSite>, BodyOf<typeof routes.createSite>>({
      query: (body) => request(routes.createSite, {}, body),
      invalidatesTags: ['Sites'],
    }),
    changeSite: build.mutation<ResponseOf<typeof routes.changeSite>, Changing<typeof routes.changeSite>>({
      query: ({ body, ...params }) => request(routes.changeSite, params, body),
      invalidatesTags: ['Sites'],
    }),
    deleteSite: build.mutation<void, ParamsOf<typeof routes.deleteSite>>({
      query: (params) => request(routes.deleteSite, params),
      invalidatesTags: ['Sites'],
    }),
  }),
})

export const { useSitesQuery, useCreateSiteMutation, useChangeSiteMutation, useDeleteSiteMutation } = sitesApi
