import { type BodyOf, type ParamsOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'
import { live } from '../live/connection.ts'

/** Whose the messages are that nobody was there for. */
const claimsApi = api.injectEndpoints({
  endpoints: (build) => ({
    unclaimed: build.query<ResponseOf<typeof routes.listUnclaimed>, void>({
      query: () => request(routes.listUnclaimed),
      providesTags: ['Unclaimed'],
      keepUnusedDataFor: 0,
      async onCacheEntryAdded(_, { cacheDataLoaded, cacheEntryRemoved, getCacheEntry, dispatch }) {
        const release = live.wantArrivals()
        const stop = live.onFrame((frame) => {
          if (frame.kind !== 'arrivals') return
          const known = getCacheEntry().data ?? []
          const fresh = frame.arrivals.some(
            ({ outcome, sender, topic }) =>
              outcome === 'unclaimed' &&
              !known.some((group) => group.sender === sender && group.topic === topic),
          )
          if (fresh) dispatch(api.util.invalidateTags(['Unclaimed']))
        })
        await cacheDataLoaded.catch(() => undefined)
        await cacheEntryRemoved
        stop()
        release()
      },
    }),
    claims: build.query<ResponseOf<typeof routes.listClaims>, void>({
      query: () => request(routes.listClaims),
      providesTags: ['Claims'],
    }),
    createClaim: build.mutation<
      ResponseOf<typeof routes.createClaim>,
      { readonly body: BodyOf<typeof routes.createClaim> }
    >({
      query: ({ body }) => request(routes.createClaim, {}, body),
      invalidatesTags: ['Claims', 'Unclaimed', 'Arrivals', 'Devices', 'Traces'],
    }),
    deleteClaim: build.mutation<void, ParamsOf<typeof routes.deleteClaim>>({
      query: (params) => request(routes.deleteClaim, params),
      invalidatesTags: ['Claims'],
    }),
  }),
})

export const { useUnclaimedQuery, useClaimsQuery, useCreateClaimMutation, useDeleteClaimMutation } = claimsApi
