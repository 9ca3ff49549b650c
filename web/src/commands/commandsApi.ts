import { type BodyOf, type Command, type QueryOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'
import { live } from '../live/connection.ts'
import { liveCommands } from './liveCommands.ts'

const commandsApi = api.injectEndpoints({
  endpoints: (build) => ({
    requestCommands: build.mutation<
      ResponseOf<typeof routes.requestCommands>,
      BodyOf<typeof routes.requestCommands>
    >({
      query: (body) => request(routes.requestCommands, undefined, body),
      invalidatesTags: ['Commands'],
      async onQueryStarted(_, { queryFulfilled }) {
        const answered = await queryFulfilled.catch(() => undefined)
        liveCommands.take(answered?.data.flatMap(({ command }) => command ?? []) ?? [])
      },
    }),
    /** What has not ended yet; what comes after is heard live. */
    openCommands: build.query<Command[], void>({
      query: () => request(routes.listCommands, undefined, undefined, { open: true }),
      async onCacheEntryAdded(_, { cacheDataLoaded, cacheEntryRemoved, updateCachedData, dispatch }) {
        const first = await cacheDataLoaded.catch(() => undefined)
        liveCommands.take(first?.data ?? [])
        let wasLost = false
        const stop = live.onStatus(({ state }) => {
          if (state === 'live' && wasLost)
            void dispatch(
              commandsApi.endpoints.openCommands.initiate(undefined, { forceRefetch: true }),
            ).then(({ data = [] }) => {
              liveCommands.take(data)
              updateCachedData(() => data)
            })
          wasLost = state === 'lost'
        })
        await cacheEntryRemoved
        stop()
      },
      keepUnusedDataFor: 3600,
    }),
    commands: build.query<Command[], QueryOf<typeof routes.listCommands>>({
      query: (query) => request(routes.listCommands, undefined, undefined, query),
      providesTags: ['Commands'],
      keepUnusedDataFor: 0,
      async onCacheEntryAdded(_, { cacheEntryRemoved, dispatch }) {
        const stop = live.onFrame(
          (frame) => frame.kind === 'commands' && dispatch(api.util.invalidateTags(['Commands'])),
        )
        await cacheEntryRemoved
        stop()
      },
    }),
  }),
})

export const { useRequestCommandsMutation, useOpenCommandsQuery, useCommandsQuery } = commandsApi
