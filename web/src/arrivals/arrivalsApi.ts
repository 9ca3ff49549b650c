import { type Arrival, type BodyOf, type ParamsOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'
import { live } from '../live/connection.ts'
import { type ArrivalFilter, type ArrivalList, applyArrivals } from './arrivalList.ts'

/** What came in, and running it through again. */
const arrivalsApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** What came in, the newest first; it grows as long as somebody looks, up to what a page can hold. */
    arrivals: build.query<ArrivalList, ArrivalFilter>({
      query: (filter) => {
        const chosen = Object.entries(filter).filter(([, value]) => value !== undefined && value !== '')
        return {
          url: `api/arrivals?${new URLSearchParams(chosen.map(([name, value]) => [name, String(value)]))}`,
        }
      },
      transformResponse: (arrivals: Arrival[]) => ({ arrivals, skipped: 0 }),
      providesTags: ['Arrivals'],
      keepUnusedDataFor: 0,
      async onCacheEntryAdded(filter, { cacheDataLoaded, cacheEntryRemoved, updateCachedData }) {
        const release = live.wantArrivals()
        let loaded = false
        const stop = live.onFrame((frame) => {
          if (loaded && frame.kind === 'arrivals')
            updateCachedData((list) => applyArrivals(list, frame, filter))
        })
        await cacheDataLoaded.catch(() => undefined)
        loaded = true
        await cacheEntryRemoved
        stop()
        release()
      },
    }),
    arrival: build.query<
      ResponseOf<typeof routes.getArrival>,
      { readonly id: number; readonly deviceId: number | null }
    >({
      query: ({ id, deviceId }) => ({
        url: `api/arrivals/${id}${deviceId === null ? '' : `?deviceId=${deviceId}`}`,
      }),
      // How it is understood depends on what the signals are now.
      providesTags: ['Devices'],
    }),
    tryMessage: build.mutation<ResponseOf<typeof routes.tryMessage>, BodyOf<typeof routes.tryMessage>>({
      query: (body) => request(routes.tryMessage, {}, body),
    }),
    previewReplay: build.query<
      ResponseOf<typeof routes.previewReplay>,
      ParamsOf<typeof routes.previewReplay>
    >({
      query: (params) => request(routes.previewReplay, params),
      keepUnusedDataFor: 0,
    }),
    replays: build.query<ResponseOf<typeof routes.listReplays>, ParamsOf<typeof routes.listReplays>>({
      query: (params) => request(routes.listReplays, params),
      providesTags: ['Replays'],
    }),
    createReplay: build.mutation<
      ResponseOf<typeof routes.createReplay>,
      Changing<typeof routes.createReplay>
    >({
      query: ({ body, ...params }) => request(routes.createReplay, params, body),
      invalidatesTags: ['Replays', 'Devices', 'Traces'],
    }),
    undoReplay: build.mutation<void, ParamsOf<typeof routes.undoReplay>>({
      query: (params) => request(routes.undoReplay, params),
      invalidatesTags: ['Replays', 'Devices', 'Traces'],
    }),
  }),
})

export const {
  useArrivalsQuery,
  useArrivalQuery,
  useTryMessageMutation,
  usePreviewReplayQuery,
  useReplaysQuery,
  useCreateReplayMutation,
  useUndoReplayMutation,
} = arrivalsApi
