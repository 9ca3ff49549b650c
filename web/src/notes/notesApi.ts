import { type BodyOf, type DatedEvent, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'
import { live } from '../live/connection.ts'

interface Asked {
  readonly siteId: number
  readonly from: number
  readonly to: number
  /** What is asked for: what people wrote down, or what was commanded. */
  readonly kind: 'note' | 'command'
}

/** What people wrote down of what was. */
const notesApi = api.injectEndpoints({
  endpoints: (build) => ({
    notes: build.query<DatedEvent[], Asked>({
      query: (query) => request(routes.listEvents, undefined, undefined, query),
      providesTags: ['Notes'],
      async onCacheEntryAdded({ kind }, { cacheEntryRemoved, dispatch }) {
        const stop = live.onFrame((frame) => {
          if (frame.kind === 'event' && frame.event.kind === kind)
            dispatch(api.util.invalidateTags(['Notes']))
        })
        await cacheEntryRemoved
        stop()
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
