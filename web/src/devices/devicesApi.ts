import { type BodyOf, type Device, type ParamsOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'
import { live } from '../live/connection.ts'
import { applyFrameToDevices } from '../live/liveCache.ts'

/** The devices, how they are reached, and their serial lines. */
const devicesApi = api.injectEndpoints({
  endpoints: (build) => ({
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
    doors: build.query<ResponseOf<typeof routes.getDoors>, void>({ query: () => request(routes.getDoors) }),
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
  }),
})

export const {
  useDevicesQuery,
  useCreateDeviceMutation,
  useChangeDeviceMutation,
  useDeviceLossQuery,
  useDeleteDeviceMutation,
  useReplaceSecretMutation,
  useDoorsQuery,
  useSerialPortsQuery,
  useSetSerialPortMutation,
  useRemoveSerialPortMutation,
} = devicesApi
