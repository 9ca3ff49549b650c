import { type BodyOf, type QueryOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

type Asked<T> = T & { readonly signalId: number }

const recomputeApi = api.injectEndpoints({
  endpoints: (build) => ({
    recomputationPreview: build.query<
      ResponseOf<typeof routes.previewRecomputation>,
      Asked<QueryOf<typeof routes.previewRecomputation>>
    >({
      query: ({ signalId, ...query }) => request(routes.previewRecomputation, { signalId }, undefined, query),
      keepUnusedDataFor: 0,
    }),
    recomputations: build.query<ResponseOf<typeof routes.listRecomputations>, number>({
      query: (signalId) => request(routes.listRecomputations, { signalId }),
      providesTags: ['Recomputations'],
    }),
    recompute: build.mutation<
      ResponseOf<typeof routes.createRecomputation>,
      Asked<BodyOf<typeof routes.createRecomputation>>
    >({
      query: ({ signalId, ...body }) => request(routes.createRecomputation, { signalId }, body),
      invalidatesTags: ['Recomputations', 'Traces', 'Devices'],
    }),
    undoRecomputation: build.mutation<void, Asked<{ readonly recomputationId: number }>>({
      query: (params) => request(routes.undoRecomputation, params),
      invalidatesTags: ['Recomputations', 'Traces', 'Devices'],
    }),
  }),
})

export const {
  useRecomputationPreviewQuery,
  useRecomputationsQuery,
  useRecomputeMutation,
  useUndoRecomputationMutation,
} = recomputeApi
