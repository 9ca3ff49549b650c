import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** How the server is reached. */
const reachApi = api.injectEndpoints({
  endpoints: (build) => ({
    reach: build.query<ResponseOf<typeof routes.getReach>, void>({ query: () => request(routes.getReach) }),
    /** The certificate of the local authority, PEM, for boards that have to be told whom to trust. */
    authority: build.query<string, void>({
      query: () => ({ url: 'authority.crt', responseHandler: 'text' }),
    }),
  }),
})

export const { useReachQuery, useAuthorityQuery } = reachApi
