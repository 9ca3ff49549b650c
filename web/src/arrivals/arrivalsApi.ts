import { type Arrival, type BodyOf, type ParamsOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'
import { live } from '../live/connection.ts'
import { type ArrivalFilter, type ArrivalList, applyArrivals } from './arrivalList.ts'

/** What came in, and running it through again. */
const arrivalsApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** What came in, the newest first; it grows as long as somebody looks, up to what a page can hold. */
    arrivals: build.query<ArrivalList, ArrivalFilter>({
      query: (filter) => request(routes.listArrivals, undefined, undefined, filter),
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
      query: ({ id, deviceId }) =>
        request(routes.getArrival, { arrivalId: id }, undefined, deviceId === null ? {} : { deviceId }),
      // How it is understood depends on what the signals are now.
      providesTags: ['Devices'],
    }),
    tryMessage: build.mutation<ResponseOf<typeof routes.tryMessage>, BodyOf<typeof routes.tryMessage>>({
      query: (body) => request(routes.tryMessage, {}, body),
    }),
    previewRereading: build.query<
      ResponseOf<typeof routes.previewRereading>,
      ParamsOf<typeof routes.previewRereading>
    >({
      query: (params) => request(routes.previewRereading, params),
      keepUnusedDataFor: 0,
    }),
    rereadings: build.query<ResponseOf<typeof routes.listRereadings>, ParamsOf<typeof routes.listRereadings>>(
      {
        query: (params) => request(routes.listRereadings, params),
        providesTags: ['Rereadings'],
      },
    ),
    createRereading: build.mutation<
      ResponseOf<typeof routes.createRereading>,
      Changing<typeof routes.createRereading>
    >({
      query: ({ body, ...params }) => request(routes.createRereading, params, body),
      invalidatesTags: ['Rereadings', 'Devices', 'Traces'],
    }),
    undoRereading: build.mutation<void, ParamsOf<typeof routes.undoRereading>>({
      query: (params) => request(routes.undoRereading, params),
      invalidatesTags: ['Rereadings', 'Devices', 'Traces'],
    }),
  }),
})

export const {
  useArrivalsQuery,
  useArrivalQuery,
  useTryMessageMutation,
  usePreviewRereadingQuery,
  useRereadingsQuery,
  useCreateRereadingMutation,
  useUndoRereadingMutation,
} = arrivalsApi
