import {
  type BodyOf,
  type Device,
  type KitExchange,
  type ParamsOf,
  type QueryOf,
  type ResponseOf,
  routes,
} from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'
import { live } from '../live/connection.ts'
import { liveValues } from '../live/useLive.ts'
import { serverNow } from '../time/clock.ts'
import { changedDevices, isGone, replaceDevice } from './deviceList.ts'

/** An answer was on its way for so long at most, ms. */
const onItsWay = 2000

const takeAnew = (devices: readonly Device[]): void =>
  liveValues.askedAnew(
    devices.flatMap(({ signals }) => signals.map(({ id }) => id)),
    serverNow() - onItsWay,
  )

/** The devices, how they are reached, and their serial lines. */
const devicesApi = api.injectEndpoints({
  endpoints: (build) => ({
    devices: build.query<Device[], void>({
      query: () => request(routes.listDevices),
      providesTags: ['Devices'],
      keepUnusedDataFor: 0,
      async onQueryStarted(_, { queryFulfilled }) {
        const { data } = await queryFulfilled
        takeAnew(data)
      },
      async onCacheEntryAdded(
        _,
        { cacheDataLoaded, cacheEntryRemoved, updateCachedData, getCacheEntry, dispatch },
      ) {
        const fetchAgain = async (addresses: readonly string[]) => {
          for (const address of addresses) {
            const asked = dispatch(
              devicesApi.endpoints.device.initiate({ address }, { subscribe: false, forceRefetch: true }),
            )
            const { data, error } = await asked
            if (data) takeAnew([data])
            updateCachedData((devices) =>
              replaceDevice(devices, address, data ?? (isGone(error) ? null : undefined)),
            )
          }
        }
        const stop = live.onFrame((frame) => {
          if (frame.kind !== 'changed') return
          const devices = getCacheEntry().data
          const addresses = changedDevices(frame.changes, devices ?? [])
          // Where nobody knows what changed, readings of the past may have.
          if (addresses === 'all') dispatch(api.util.invalidateTags(['Devices', 'Traces']))
          else if (devices) void fetchAgain(addresses)
          if (addresses === 'all' || addresses.length > 0) dispatch(api.util.invalidateTags(['Kits']))
          if (frame.changes.some(({ what }) => what === 'sites'))
            dispatch(api.util.invalidateTags(['Sites', 'Devices']))
        })
        await cacheDataLoaded.catch(() => undefined)
        await cacheEntryRemoved
        stop()
      },
    }),
    device: build.query<Device, ParamsOf<typeof routes.getDevice>>({
      query: (params) => request(routes.getDevice, params),
      keepUnusedDataFor: 0,
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
      ParamsOf<typeof routes.replaceSecret> & QueryOf<typeof routes.replaceSecret>
    >({
      query: ({ address, ...query }) => request(routes.replaceSecret, { address }, undefined, query),
    }),
    replaceHardware: build.mutation<
      ResponseOf<typeof routes.replaceHardware>,
      Changing<typeof routes.replaceHardware>
    >({
      query: ({ body, ...params }) => request(routes.replaceHardware, params, body),
      invalidatesTags: ['Devices'],
    }),
    kitExchange: build.query<KitExchange, ParamsOf<typeof routes.previewKitExchange>>({
      query: (params) => request(routes.previewKitExchange, params),
      keepUnusedDataFor: 0,
    }),
    exchangeKit: build.mutation<KitExchange, ParamsOf<typeof routes.exchangeKit>>({
      query: (params) => request(routes.exchangeKit, params),
      invalidatesTags: ['Devices', 'Kits', 'Traces'],
    }),
    serialPorts: build.query<ResponseOf<typeof routes.listSerialPorts>, void>({
      query: () => request(routes.listSerialPorts),
      keepUnusedDataFor: 0,
    }),
    setSerialPort: build.mutation<void, Changing<typeof routes.setSerialPort>>({
      query: ({ body, ...params }) => request(routes.setSerialPort, params, body),
      invalidatesTags: ['Devices'],
    }),
    pauseSerialPort: build.mutation<void, Changing<typeof routes.pauseSerialPort>>({
      query: ({ body, ...params }) => request(routes.pauseSerialPort, params, body),
      invalidatesTags: ['Devices'],
    }),
    removeSerialPort: build.mutation<void, ParamsOf<typeof routes.removeSerialPort>>({
      query: (params) => request(routes.removeSerialPort, params),
      invalidatesTags: ['Devices'],
    }),
  }),
})

export const {
  useDevicesQuery,
  useCreateDeviceMutation,
  useChangeDeviceMutation,
  useDeviceLossQuery,
  useDeleteDeviceMutation,
  useReplaceSecretMutation,
  useReplaceHardwareMutation,
  useKitExchangeQuery,
  useExchangeKitMutation,
  useSerialPortsQuery,
  useSetSerialPortMutation,
  usePauseSerialPortMutation,
  useRemoveSerialPortMutation,
} = devicesApi
