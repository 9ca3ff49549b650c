import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** How the server itself is doing. */
const conditionApi = api.injectEndpoints({
  endpoints: (build) => ({
    condition: build.query<ResponseOf<typeof routes.getCondition>, void>({
      query: () => request(routes.getCondition),
      providesTags: ['Condition'],
    }),
    confirmClock: build.mutation<void, void>({
      query: () => request(routes.confirmClock),
      invalidatesTags: ['Condition'],
    }),
  }),
})

export const { useConditionQuery, useConfirmClockMutation } = conditionApi
