import {
  type Arrival,
  type BodyOf,
  type Device,
  type LiveFrame,
  type ParamsOf,
  pathTo,
  type ResponseOf,
  type Route,
  routes,
  type Trace,
} from '@jaunty-sparrow/contract'
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react'
import { type ArrivalFilter, type ArrivalList, applyArrivals } from '../arrivals/arrivalList.ts'
import { live } from '../live/connection.ts'
import { serverNow } from '../time/clock.ts'
import { applyFrameToDevices, applyFrameToTraces, type ReadingsFrame } from './liveCache.ts'

/** How far back the traces on the screen reach, ms. */
export const traceSpan = 3_600_000

let csrfToken = ''

/** The session's token against forged requests; it is told by the session itself and lives in memory only. */
export const rememberCsrfToken = (token: string): void => {
  csrfToken = token
}

const baseQuery = fetchBaseQuery({
  baseUrl: '/',
  prepareHeaders: (headers) => headers.set('X-CSRF-Token', csrfToken),
  validateStatus: (response) => response.ok,
  responseHandler: async (response) => {
    const text = await response.text()
    return text === '' ? null : JSON.parse(text)
  },
})

type Params<R extends Route> = ParamsOf<R> extends undefined ? Record<string, never> : ParamsOf<R>

/** Turns a route of the contract into a request. */
function request<R extends Route>(route: R, params: Partial<Params<R>> = {}, body?: BodyOf<R>) {
  return {
    url: pathTo(route, params).slice(1),
    method: route.method.toUpperCase(),
    ...(body !== undefined && { body }),
  }
}

type Changing<R extends Route> = Params<R> & { readonly body: BodyOf<R> }

export interface TraceRequest {
  readonly signals: readonly number[]
  readonly columns: number
}

export const api = createApi({
  baseQuery,
  tagTypes: ['Session', 'Sites', 'Devices', 'Traces', 'Arrivals', 'Unclaimed', 'Claims', 'Replays'],
  endpoints: (build) => ({
    session: build.query<ResponseOf<typeof routes.getSession>, void>({
      query: () => request(routes.getSession),
      providesTags: ['Session'],
    }),
    createOwner: build.mutation<ResponseOf<typeof routes.createOwner>, BodyOf<typeof routes.createOwner>>({
      query: (body) => request(routes.createOwner, {}, body),
      invalidatesTags: ['Session'],
    }),
    signIn: build.mutation<ResponseOf<typeof routes.signIn>, BodyOf<typeof routes.signIn>>({
      query: (body) => request(routes.signIn, {}, body),
      invalidatesTags: ['Session'],
    }),
    signInByLink: build.mutation<ResponseOf<typeof routes.signInByLink>, BodyOf<typeof routes.signInByLink>>({
      query: (body) => request(routes.signInByLink, {}, body),
      invalidatesTags: ['Session'],
    }),
    signOut: build.mutation<void, void>({
      query: () => request(routes.signOut),
      invalidatesTags: ['Session'],
    }),
    sites: build.query<ResponseOf<typeof routes.listSites>, void>({
      query: () => request(routes.listSites),
      providesTags: ['Sites'],
    }),
    createSite: build.mutation<ResponseOf<typeof routes.createSite>, BodyOf<typeof routes.createSite>>({
      query: (body) => request(routes.createSite, {}, body),
      invalidatesTags: ['Sites'],
    }),
    changeSite: build.mutation<ResponseOf<typeof routes.changeSite>, Changing<typeof routes.changeSite>>({
      query: ({ body, ...params }) => request(routes.changeSite, params, body),
      invalidatesTags: ['Sites'],
    }),
    deleteSite: build.mutation<void, ParamsOf<typeof routes.deleteSite>>({
      query: (params) => request(routes.deleteSite, params),
      invalidatesTags: ['Sites'],
    }),
    devices: build.query<Device[], void>({
      query: () => request(routes.listDevices),
      providesTags: ['Devices'],
      keepUnusedDataFor: 0,
      async onCacheEntryAdded(
        _,
        { cacheDataLoaded, cacheEntryRemoved, updateCachedData, getCacheEntry, dispatch },
      ) {
        const stop = live.onFrame((frame) => {
          if (frame.kind === 'changed') {
            dispatch(api.util.invalidateTags([frame.what === 'devices' ? 'Devices' : 'Sites']))
          } else if ('signals' in frame && getCacheEntry().data)
            updateCachedData((devices) => applyFrameToDevices(devices, frame))
        })
        await cacheDataLoaded.catch(() => undefined)
        await cacheEntryRemoved
        stop()
      },
    }),
    createDevice: build.mutation<ResponseOf<typeof routes.createDevice>, BodyOf<typeof routes.createDevice>>({
      query: (body) => request(routes.createDevice, {}, body),
      invalidatesTags: ['Devices'],
    }),
    changeDevice: build.mutation<void, Changing<typeof routes.changeDevice>>({
      query: ({ body, ...params }) => request(routes.changeDevice, params, body),
      invalidatesTags: ['Devices'],
    }),
    deviceLoss: build.query<ResponseOf<typeof routes.getDeviceLoss>, ParamsOf<typeof routes.getDeviceLoss>>({
      query: (params) => request(routes.getDeviceLoss, params),
      keepUnusedDataFor: 0,
    }),
    deleteDevice: build.mutation<void, ParamsOf<typeof routes.deleteDevice>>({
      query: (params) => request(routes.deleteDevice, params),
      invalidatesTags: ['Devices'],
    }),
    replaceSecret: build.mutation<
      ResponseOf<typeof routes.replaceSecret>,
      ParamsOf<typeof routes.replaceSecret>
    >({
      query: (params) => request(routes.replaceSecret, params),
    }),
    changeSignalDefinition: build.mutation<void, Changing<typeof routes.changeSignalDefinition>>({
      query: ({ body, ...params }) => request(routes.changeSignalDefinition, params, body),
      invalidatesTags: ['Devices'],
    }),
    doors: build.query<ResponseOf<typeof routes.getDoors>, void>({ query: () => request(routes.getDoors) }),
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
    // What a file brings is seen when it is done, so nothing is asked for again piece by piece.
    importFile: build.mutation<ResponseOf<typeof routes.importFile>, Changing<typeof routes.importFile>>({
      query: ({ body, ...params }) => request(routes.importFile, params, body),
    }),
    serialPorts: build.query<ResponseOf<typeof routes.listSerialPorts>, void>({
      query: () => request(routes.listSerialPorts),
      keepUnusedDataFor: 0,
    }),
    setSerialPort: build.mutation<void, Changing<typeof routes.setSerialPort>>({
      query: ({ body, ...params }) => request(routes.setSerialPort, params, body),
      invalidatesTags: ['Devices'],
    }),
    removeSerialPort: build.mutation<void, ParamsOf<typeof routes.removeSerialPort>>({
      query: (params) => request(routes.removeSerialPort, params),
      invalidatesTags: ['Devices'],
    }),
    capacity: build.query<ResponseOf<typeof routes.getCapacity>, void>({
      query: () => request(routes.getCapacity),
    }),
    measureCapacity: build.mutation<ResponseOf<typeof routes.measureCapacity>, void>({
      query: () => request(routes.measureCapacity),
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
      async onCacheEntryAdded({ signals }, { cacheDataLoaded, cacheEntryRemoved, updateCachedData }) {
        // What comes in while the trace is being fetched is held back and applied on top of it.
        let waiting: ReadingsFrame[] | undefined = []
        const apply = (frame: LiveFrame) => {
          if (!('signals' in frame)) return
          if (waiting) waiting.push(frame)
          else updateCachedData((traces) => applyFrameToTraces(traces, frame, serverNow() - traceSpan))
        }
        const stop = live.onFrame(apply)
        const release = live.want(signals)
        await cacheDataLoaded.catch(() => undefined)
        const held = waiting
        waiting = undefined
        held.forEach(apply)
        await cacheEntryRemoved
        stop()
        release()
      },
    }),
  }),
})
