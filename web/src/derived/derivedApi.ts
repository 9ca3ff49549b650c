import { type BodyOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

const derivedApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** What would follow from signals as they were of late. */
    derivationTrial: build.query<
      ResponseOf<typeof routes.tryDerivation>,
      { readonly address: string } & BodyOf<typeof routes.tryDerivation>
    >({
      query: ({ address, ...body }) => request(routes.tryDerivation, { address }, body),
      keepUnusedDataFor: 0,
    }),
  }),
})

export const { useDerivationTrialQuery } = derivedApi
