import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

const conversionApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** What a formula would make of what came last. */
    conversionTrial: build.query<
      ResponseOf<typeof routes.tryConversion>,
      { readonly signalId: number; readonly conversion: string | null }
    >({
      query: ({ signalId, conversion }) => request(routes.tryConversion, { signalId }, { conversion }),
      keepUnusedDataFor: 0,
    }),
  }),
})

export const { useConversionTrialQuery } = conversionApi
