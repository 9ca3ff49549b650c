import { type QueryOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** What somebody did, the newest first. */
const logApi = api.injectEndpoints({
  endpoints: (build) => ({
    log: build.query<ResponseOf<typeof routes.listEvents>, QueryOf<typeof routes.listEvents>>({
      query: (query) => request(routes.listEvents, undefined, undefined, query),
      keepUnusedDataFor: 0,
    }),
  }),
})

export const { useLogQuery } = logApi
