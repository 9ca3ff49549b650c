import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** What the server can store. */
const budgetApi = api.injectEndpoints({
  endpoints: (build) => ({
    capacity: build.query<ResponseOf<typeof routes.getCapacity>, void>({
      query: () => request(routes.getCapacity),
    }),
    measureCapacity: build.mutation<ResponseOf<typeof routes.measureCapacity>, void>({
      query: () => request(routes.measureCapacity),
    }),
  }),
})

export const { useCapacityQuery, useMeasureCapacityMutation } = budgetApi
