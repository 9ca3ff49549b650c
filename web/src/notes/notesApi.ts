import { type BodyOf, type DatedEvent, routes } from '@jaunty-sparrow/contract'
import throttle from 'lodash-es/throttle.js'
import { api, request } from '../api/api.ts'
import { live } from '../live/connection.ts'

interface Asked {
  readonly siteId: number
  readonly from: number
  readonly to: number
  /** What is asked for: what people wrote down, what was commanded, or the alarms that were raised. */
  readonly kind: 'note' | 'command' | 'alarm'
}

/** However much happens at once, it is asked for again no more often than that, ms. */
const asksEvery = 500

/** What people wrote down of what was. */
const notesApi = api.injectEndpoints({
  endpoints: (build) => ({
    notes: build.query<DatedEvent[], Asked>({
      query: (query) => request(routes.listEvents, undefined, undefined, query),
      providesTags: ['Notes'],
      async onCacheEntryAdded({ kind }, { cacheEntryRemoved, dispatch }) {
        const ask = throttle(() => dispatch(api.util.invalidateTags(['Notes'])), asksEvery)
        const stop = live.onFrame((frame) => {
          if (frame.kind === 'event' && frame.event.kind === kind) ask()
        })
        await cacheEntryRemoved
        stop()
        ask.cancel()
      },
    }),
    createNote: build.mutation<DatedEvent, BodyOf<typeof routes.createNote>>({
      query: (body) => request(routes.createNote, undefined, body),
      invalidatesTags: ['Notes'],
    }),
    deleteNote: build.mutation<void, number>({
      query: (eventId) => request(routes.deleteNote, { eventId }),
      invalidatesTags: ['Notes'],
    }),
  }),
})

export const { useNotesQuery, useCreateNoteMutation, useDeleteNoteMutation } = notesApi
