import { routes, type Trace } from '@jaunty-sparrow/contract'
import throttle from 'lodash-es/throttle.js'
import { api, type Changing, request } from '../api/api.ts'
import { live } from '../live/connection.ts'
import { applyFrameToTraces, type ReadingsFrame } from '../live/liveCache.ts'
import { serverNow } from '../time/clock.ts'

/** How far back the traces on the screen reach, ms. */
export const traceSpan = 3_600_000

/** What a frame had no room for is fetched this long after, ms; a backlog comes in many frames. */
const catchUpAfter = 2000

const oldest = (): number => serverNow() - traceSpan

interface TraceRequest {
  readonly signals: readonly number[]
  readonly columns: number
}

/** What signals are, and their last hour. */
const signalsApi = api.injectEndpoints({
  endpoints: (build) => ({
    changeSignalDefinition: build.mutation<void, Changing<typeof routes.changeSignalDefinition>>({
      query: ({ body, ...params }) => request(routes.changeSignalDefinition, params, body),
      invalidatesTags: ['Devices'],
    }),
    /** The last hour of signals; it grows with what comes in as long as somebody looks. */
    traces: build.query<Trace[], TraceRequest>({
      query: ({ signals, columns }) => {
        const to = Math.ceil(serverNow() / 1000) * 1000 + 60_000
        const search = new URLSearchParams({
          signals: signals.join(),
          from: String(to - 60_000 - traceSpan),
          to: String(to),
          columns: String(columns),
        })
        return { url: `api/traces?${search}` }
      },
      providesTags: ['Traces'],
      keepUnusedDataFor: 0,
      async onQueryStarted(_, { queryFulfilled, updateCachedData }) {
        // What comes in while the traces are being fetched is held back and applied on top of them.
        const held: ReadingsFrame[] = []
        const stop = live.onFrame((frame) => {
          if ('signals' in frame) held.push(frame)
        })
        const fetched = await queryFulfilled.catch(() => undefined)
        stop()
        if (!fetched) return
        updateCachedData((traces) => {
          for (const frame of held) applyFrameToTraces(traces, frame, oldest())
        })
      },
      async onCacheEntryAdded(wanted, { cacheEntryRemoved, updateCachedData, getCacheEntry, dispatch }) {
        const fetchAgain = throttle(
          () =>
            dispatch(signalsApi.endpoints.traces.initiate(wanted, { forceRefetch: true, subscribe: false })),
          catchUpAfter,
          { leading: false },
        )
        const stop = live.onFrame((frame) => {
          if (!('signals' in frame) || !getCacheEntry().data) return
          updateCachedData((traces) => applyFrameToTraces(traces, frame, oldest()))
          if (frame.signals.some(({ signal, skipped }) => skipped > 0 && wanted.signals.includes(signal)))
            fetchAgain()
        })
        const release = live.want(wanted.signals)
        await cacheEntryRemoved
        fetchAgain.cancel()
        stop()
        release()
      },
    }),
  }),
})

export const { useChangeSignalDefinitionMutation, useTracesQuery } = signalsApi
