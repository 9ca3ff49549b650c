import { type QueryOf, type ResponseOf, routes, type Trace } from '@jaunty-sparrow/contract'
import { min } from 'd3-array'
import { api, type Changing, request } from '../api/api.ts'
import { sharedToken } from '../api/sharedToken.ts'
import { serverNow } from '../time/clock.ts'
import { stretchOf, type View } from './view.ts'

interface TraceRequest {
  readonly signals: readonly number[]
  readonly columns: number
  readonly view: View
}

/** Nobody's records are older. */
const longAgo = Date.UTC(1900, 0)

/** Clocks differ a little: what is called now reaches so far beyond it, ms. */
const beyondNow = 60_000

/** Who looks by a link asks by that. */
const traces = (query: QueryOf<typeof routes.getTraces>) =>
  sharedToken === undefined
    ? request(routes.getTraces, undefined, undefined, query)
    : request(routes.getSharedTraces, { token: sharedToken }, undefined, query)

const totals = (query: QueryOf<typeof routes.getTotals>) =>
  sharedToken === undefined
    ? request(routes.getTotals, undefined, undefined, query)
    : request(routes.getSharedTotals, { token: sharedToken }, undefined, query)

const lastReadings = (query: QueryOf<typeof routes.getLastReadings>) =>
  sharedToken === undefined
    ? request(routes.getLastReadings, undefined, undefined, query)
    : request(routes.getSharedLastReadings, { token: sharedToken }, undefined, query)

/** What signals are, and their last hour. */
const signalsApi = api.injectEndpoints({
  endpoints: (build) => ({
    changeSignalDefinition: build.mutation<void, Changing<typeof routes.changeSignalDefinition>>({
      query: ({ body, ...params }) => request(routes.changeSignalDefinition, params, body),
      invalidatesTags: ['Devices', 'Kits'],
    }),
    changeOwnSettings: build.mutation<void, Changing<typeof routes.changeOwnSettings>>({
      query: ({ body, ...params }) => request(routes.changeOwnSettings, params, body),
      invalidatesTags: ['Devices'],
    }),
    changeDoubt: build.mutation<void, Changing<typeof routes.changeDoubt>>({
      query: ({ body, ...params }) => request(routes.changeDoubt, params, body),
      invalidatesTags: ['Devices'],
    }),
    /** Which values that came are likely to mean a fault. */
    proposedFaults: build.query<ResponseOf<typeof routes.proposeFaults>, number>({
      query: (signalId) => request(routes.proposeFaults, { signalId }),
      keepUnusedDataFor: 0,
    }),
    /** The course of signals, as it is stored. */
    traces: build.query<Trace[], TraceRequest>({
      query: ({ signals, columns, view }) => {
        const { from, to } = stretchOf(view, Math.ceil(serverNow() / 1000) * 1000)
        const end = 'span' in view ? to + beyondNow : to
        return traces({ signals: signals.join(), from, to: end, columns })
      },
      providesTags: ['Traces'],
      keepUnusedDataFor: 0,
    }),
    /** What signals come to by hours, days or months. */
    totals: build.query<ResponseOf<typeof routes.getTotals>, QueryOf<typeof routes.getTotals>>({
      query: totals,
      providesTags: ['Traces'],
      keepUnusedDataFor: 0,
    }),
    /** What signals said last, up to an instant. */
    readingsAt: build.query<ResponseOf<typeof routes.getReadingsAt>, QueryOf<typeof routes.getReadingsAt>>({
      query: (query) => request(routes.getReadingsAt, undefined, undefined, query),
      providesTags: ['Traces'],
      keepUnusedDataFor: 30,
    }),
    /** Single readings of signals up to an instant, of any kind. */
    lastReadings: build.query<
      ResponseOf<typeof routes.getLastReadings>,
      QueryOf<typeof routes.getLastReadings>
    >({
      query: lastReadings,
      providesTags: ['Traces'],
      keepUnusedDataFor: 0,
    }),
    /** What was said of signals at an instant: the limits of then. */
    descriptionsAt: build.query<
      ResponseOf<typeof routes.getDescriptionsAt>,
      QueryOf<typeof routes.getDescriptionsAt>
    >({
      query: ({ signals, at }) => request(routes.getDescriptionsAt, undefined, undefined, { signals, at }),
      keepUnusedDataFor: 30,
    }),
    /** When the first of the readings of signals was measured, epoch ms; null when there are none. */
    firstReading: build.query<number | null, readonly number[]>({
      query: (signals) =>
        traces({ signals: signals.join(), from: longAgo, to: Math.round(serverNow()), columns: 100 }),
      transformResponse: (traces: Trace[]) => min(traces, ({ points }) => points[0]?.[0]) ?? null,
      keepUnusedDataFor: 0,
    }),
  }),
})

export const {
  useChangeSignalDefinitionMutation,
  useChangeOwnSettingsMutation,
  useChangeDoubtMutation,
  useProposedFaultsQuery,
  useTracesQuery,
  useTotalsQuery,
  useReadingsAtQuery,
  useLastReadingsQuery,
  useDescriptionsAtQuery,
  useLazyFirstReadingQuery,
} = signalsApi
