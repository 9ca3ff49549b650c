import {
  type AlarmAct,
  type AlarmTrial,
  type BodyOf,
  type DatedEvent,
  type ResponseOf,
  routes,
  type StandingAlarm,
} from '@jaunty-sparrow/contract'
import throttle from 'lodash-es/throttle.js'
import { api, request } from '../api/api.ts'
import { live } from '../live/connection.ts'

/** What is tried of an alarm, and for which signal. */
type Tried = BodyOf<typeof routes.tryAlarm> & { readonly signalId: number }

/** However many alarms come at once, they are asked for again no more often than that, ms. */
const asksEvery = 700

const alarmsApi = api.injectEndpoints({
  endpoints: (build) => ({
    alarms: build.query<ResponseOf<typeof routes.listAlarms>, void>({
      query: () => request(routes.listAlarms),
      providesTags: ['Alarms'],
      async onCacheEntryAdded(_, { cacheEntryRemoved, dispatch }) {
        const ask = throttle(() => dispatch(api.util.invalidateTags(['Alarms'])), asksEvery)
        const stop = live.onFrame((frame) => {
          if (frame.kind === 'changed' && frame.changes.some(({ what }) => what === 'alarms')) ask()
        })
        await cacheEntryRemoved
        stop()
        ask.cancel()
      },
    }),
    alarm: build.query<StandingAlarm, string>({
      query: (alarmId) => request(routes.getAlarm, { alarmId }),
      providesTags: ['Alarms'],
    }),
    alarmActs: build.query<AlarmAct[], string>({
      query: (alarmId) => request(routes.listAlarmActs, { alarmId }),
      providesTags: ['Alarms'],
    }),
    alarmRecord: build.query<ResponseOf<typeof routes.getAlarmRecord>, number>({
      query: (days) => request(routes.getAlarmRecord, undefined, undefined, { days }),
      providesTags: ['Alarms'],
    }),
    /** The alarms of a device that were raised within a span. */
    raisedAlarms: build.query<
      DatedEvent[],
      { readonly deviceId: number; readonly from: number; readonly to: number }
    >({
      query: (query) => request(routes.listEvents, undefined, undefined, { ...query, kind: 'alarm' }),
      providesTags: ['Alarms'],
    }),
    alarmTrial: build.query<AlarmTrial, Tried>({
      query: ({ signalId, ...body }) => request(routes.tryAlarm, { signalId }, body),
      keepUnusedDataFor: 30,
    }),
    testBuzzer: build.mutation<ResponseOf<typeof routes.testBuzzer>, string>({
      query: (address) => request(routes.testBuzzer, { address }),
    }),
    testWalls: build.mutation<ResponseOf<typeof routes.testWalls>, number>({
      query: (siteId) => request(routes.testWalls, { siteId }),
    }),
    moveAlarms: build.mutation<ResponseOf<typeof routes.moveAlarms>, BodyOf<typeof routes.moveAlarms>>({
      query: (body) => request(routes.moveAlarms, undefined, body),
      invalidatesTags: ['Alarms'],
    }),
  }),
})

export const {
  useAlarmsQuery,
  useAlarmQuery,
  useAlarmActsQuery,
  useAlarmRecordQuery,
  useRaisedAlarmsQuery,
  useAlarmTrialQuery,
  useMoveAlarmsMutation,
  useTestBuzzerMutation,
  useTestWallsMutation,
} = alarmsApi
