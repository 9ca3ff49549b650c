import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

const explainApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** How a value at an instant, epoch ms, came about. */
    valueExplanation: build.query<
      ResponseOf<typeof routes.explainValue>,
      { readonly signalId: number; readonly at: number }
    >({
      query: ({ signalId, at }) => request(routes.explainValue, { signalId }, undefined, { at }),
      keepUnusedDataFor: 0,
    }),
  }),
})

export const { useValueExplanationQuery } = explainApi
