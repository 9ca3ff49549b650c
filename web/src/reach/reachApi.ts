import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** How the server is reached. */
const reachApi = api.injectEndpoints({
  endpoints: (build) => ({
    reach: build.query<ResponseOf<typeof routes.getReach>, void>({ query: () => request(routes.getReach) }),
  }),
})

export const { useReachQuery } = reachApi
