import { type BodyOf, type Notice, type ResponseOf, routes, type Way } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'
import { live } from '../live/connection.ts'

const noticesApi = api.injectEndpoints({
  endpoints: (build) => ({
    ways: build.query<ResponseOf<typeof routes.listWays>, void>({
      query: () => request(routes.listWays),
      providesTags: ['Notices'],
      async onCacheEntryAdded(_, { cacheEntryRemoved, dispatch }) {
        const stop = live.onFrame((frame) => {
          if (frame.kind === 'changed' && frame.changes.some(({ what }) => what === 'notices'))
            dispatch(api.util.invalidateTags(['Notices']))
        })
        await cacheEntryRemoved
        stop()
      },
    }),
    notices: build.query<Notice[], { readonly before?: number }>({
      query: (query) => request(routes.listNotices, undefined, undefined, query),
      providesTags: ['Notices'],
    }),
    pushKey: build.query<ResponseOf<typeof routes.getPushKey>, void>({
      query: () => request(routes.getPushKey),
    }),
    createWay: build.mutation<ResponseOf<typeof routes.createWay>, BodyOf<typeof routes.createWay>>({
      query: (body) => request(routes.createWay, undefined, body),
      invalidatesTags: ['Notices'],
    }),
    changeWay: build.mutation<Way, Changing<typeof routes.changeWay>>({
      query: ({ wayId, body }) => request(routes.changeWay, { wayId }, body),
      invalidatesTags: ['Notices'],
    }),
    deleteWay: build.mutation<void, number>({
      query: (wayId) => request(routes.deleteWay, { wayId }),
      invalidatesTags: ['Notices'],
    }),
    testWay: build.mutation<Notice, number>({
      query: (wayId) => request(routes.testWay, { wayId }),
      invalidatesTags: ['Notices'],
    }),
    seenLink: build.query<ResponseOf<typeof routes.readSeenLink>, string>({
      query: (token) => request(routes.readSeenLink, undefined, { token }),
      keepUnusedDataFor: 0,
    }),
    useSeenLink: build.mutation<ResponseOf<typeof routes.useSeenLink>, BodyOf<typeof routes.useSeenLink>>({
      query: (body) => request(routes.useSeenLink, undefined, body),
    }),
  }),
})

export const {
  useWaysQuery,
  useNoticesQuery,
  useLazyPushKeyQuery,
  useCreateWayMutation,
  useChangeWayMutation,
  useDeleteWayMutation,
  useTestWayMutation,
  useSeenLinkQuery,
  useUseSeenLinkMutation,
} = noticesApi
