import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** Kinds of devices. */
const kitsApi = api.injectEndpoints({
  endpoints: (build) => ({
    kits: build.query<ResponseOf<typeof routes.listKits>, void>({
      query: () => request(routes.listKits),
      providesTags: ['Kits'],
    }),
    kit: build.query<ResponseOf<typeof routes.getKit>, number>({
      query: (kitId) => request(routes.getKit, { kitId }),
      providesTags: ['Kits'],
    }),
  }),
})

export const { useKitsQuery, useKitQuery } = kitsApi
