import { alarmStates } from '@jaunty-sparrow/core/alarm'
import { type Static, Type } from '@sinclair/typebox'
import { Alarm, AlarmId, AlarmState, Occasion, Suppression } from './alarm.ts'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'
import { SignalSettings } from './signal.ts'

const closed = { additionalProperties: false }
const orNull = <T extends Parameters<typeof Type.Union>[0][number]>(type: T) =>
  Type.Union([type, Type.Null()])
const At = orNull(Type.Integer())
const Id = Type.Union([Type.Integer(), Type.Null()])

/** An alarm as it stands. Instants are epoch milliseconds. */
export const StandingAlarm = Type.Object({
  id: AlarmId,
  siteId: Type.Union([Type.Integer(), Type.Null()], { description: 'Null for what is of the server.' }),
  deviceId: Id,
  signalId: Id,
  subject: Type.String({ description: 'What it is of: a signal with its device, a device, the server.' }),
  alarm: Alarm,
  state: AlarmState,
  isActive: Type.Boolean({ description: 'Whether it is the case now, whatever its state.' }),
  raisedAt: At,
  returnedAt: Type.Union([Type.Integer(), Type.Null()], {
    description: 'When it was over; null while it is not.',
  }),
  changedAt: At,
  value: Type.Union([Type.Number(), Type.Null()], { description: 'What raised it.' }),
  worst: orNull(Type.Number()),
  limit: Type.Union([Type.Number(), Type.Null()], { description: 'The limit it was beyond.' }),
  acknowledged: orNull(Type.Object({ at: Type.Integer(), person: Type.String(), word: Type.String() })),
  shelf: orNull(Type.Object({ until: Type.Integer(), by: Type.String(), why: Type.String() })),
  outOfService: orNull(Type.Object({ since: Type.Integer(), by: Type.String(), why: Type.String() })),
  causedBy: Type.Union([AlarmId, Type.Null()], {
    description: 'The alarm that explains this one: it is enough to answer that.',
  }),
})
export type StandingAlarm = Static<typeof StandingAlarm>

/** So many alarms are told at once. */
export const mostStanding = 500

export const listAlarms = defineRoute({
  method: 'get',
  path: '/api/alarms',
  summary: `The alarms that are not at rest: those that wait for a word first, the newest first, at most ${mostStanding}`,
  role: 'viewer',
  at: 'somewhere',
  response: Type.Object({
    alarms: Type.Array(StandingAlarm),
    counts: Type.Unsafe<Record<(typeof alarmStates)[number], number>>(
      Type.Object(Object.fromEntries(alarmStates.map((state) => [state, Type.Integer()])), {
        description: 'How many are in each state, those that another one explains left out.',
      }),
    ),
    inAll: Type.Integer(),
    triedWalls: Type.Array(Type.Integer(), {
      description: 'The sites on whose walls a test hangs just now.',
    }),
  }),
  status: 200,
})

const Tried = Type.Object({ until: Type.Integer({ description: 'Epoch milliseconds.' }) })

export const testBuzzer = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/buzzer',
  summary:
    'Let the buzzer of a board sound for 75 seconds, as if an alarm of it waited for a word; one that asks hears of it when it asks within them',
  role: 'operator',
  at: 'device',
  params: Type.Object({ address: Type.String() }),
  response: Tried,
  status: 201,
})

export const testWalls = defineRoute({
  method: 'post',
  path: '/api/sites/{siteId}/wall-test',
  summary: 'Hang a test where alarms hang on the walls of a site, for 75 seconds',
  role: 'operator',
  at: 'site',
  params: Type.Object({ siteId: Type.Integer() }),
  response: Tried,
  status: 201,
})

export const getAlarm = defineRoute({
  method: 'get',
  path: '/api/alarms/{alarmId}',
  summary: 'One alarm as it stands',
  role: 'viewer',
  at: 'alarm',
  params: Type.Object({ alarmId: AlarmId }),
  response: StandingAlarm,
  status: 200,
})

/** What people do with alarms. */
export const alarmMoves = ['acknowledge', 'reset', 'shelve', 'wake', 'take-out', 'return-to-service'] as const
export type AlarmMove = (typeof alarmMoves)[number]

/** The longest that an alarm rests, s. */
export const longestShelf = 7 * 86_400

export const moveAlarms = defineRoute({
  method: 'post',
  path: '/api/alarms/moves',
  summary:
    'Acknowledge alarms, reset what latched, let them rest for a while or wake them, take them out of service or return them',
  role: 'operator',
  at: 'body',
  body: Type.Object(
    {
      alarms: Type.Array(AlarmId, { minItems: 1, maxItems: mostStanding, uniqueItems: true }),
      move: Type.Unsafe<AlarmMove>({ type: 'string', enum: [...alarmMoves] }),
      word: Type.Optional(
        Type.String({ maxLength: 300, description: 'What one has to say; to let rest or take out, why.' }),
      ),
      seconds: Type.Optional(
        Type.Integer({ minimum: 60, maximum: longestShelf, description: 'How long they rest.' }),
      ),
    },
    closed,
  ),
  response: Type.Object({
    moved: Type.Array(AlarmId),
    left: Type.Array(AlarmId, { description: 'Where that cannot be done in the state it is in.' }),
  }),
  status: 200,
})

/** What happened to an alarm. */
export const AlarmAct = Type.Object({
  id: Type.Integer(),
  alarmId: AlarmId,
  at: Type.Integer(),
  move: Type.String({
    description:
      'raise, return, suppress, release, late, begin-anew, or what a person did: acknowledge, reset, shelve, wake, take-out, return-to-service.',
  }),
  state: AlarmState,
  value: orNull(Type.Number()),
  person: orNull(Type.String()),
  word: Type.String(),
  until: At,
})
export type AlarmAct = Static<typeof AlarmAct>

export const listAlarmActs = defineRoute({
  method: 'get',
  path: '/api/alarms/{alarmId}/acts',
  summary: 'What happened to an alarm, the newest first, at most a hundred',
  role: 'viewer',
  at: 'alarm',
  params: Type.Object({ alarmId: AlarmId }),
  query: Type.Object({ before: Type.Optional(Type.Integer({ minimum: 1, maximum: 2 ** 31 - 1 })) }),
  response: Type.Array(AlarmAct),
  status: 200,
})

export const getAlarmRecord = defineRoute({
  method: 'get',
  path: '/api/alarms/record',
  summary:
    'How all alarms did lately: how often each was raised, how long it lasted, and how soon it was seen',
  role: 'viewer',
  at: 'somewhere',
  query: Type.Object({ days: Type.Integer({ minimum: 1, maximum: 90 }) }),
  response: Type.Array(
    Type.Object({
      id: AlarmId,
      siteId: Id,
      subject: Type.String(),
      alarm: Alarm,
      state: AlarmState,
      raised: Type.Integer(),
      seconds: Type.Number({ description: 'How long it was the case in all.' }),
      fleeting: Type.Integer({ description: 'How often it was over within a minute.' }),
      late: Type.Integer({ description: 'How often it was learned late that it would have been raised.' }),
      medianToWord: Type.Union([Type.Number(), Type.Null()], {
        description: 'How long it took until somebody saw it, half of the times less, seconds.',
      }),
    }),
  ),
  status: 200,
})

const Stretch = Type.Object({ from: Type.Integer(), to: Type.Integer(), worst: orNull(Type.Number()) })

/** How an alarm would have been. */
export const AlarmTrial = Type.Object({
  problem: Type.Union([Type.String(), Type.Null()], {
    description: 'What contradicts itself; then nothing was tried.',
  }),
  count: Type.Integer({ description: 'How often it would have been raised.' }),
  seconds: Type.Number({ description: 'How long it would have been the case in all.' }),
  longest: Type.Number({ description: 'The longest of it, seconds.' }),
  fleeting: Type.Integer({ description: 'How often it would have been over within a minute.' }),
  hours: Type.Array(Type.Integer(), {
    description: 'How often it would have begun in each hour of the day, by the clock of its site.',
  }),
  suppressed: Type.Number({
    description: 'How long it would have been suppressed while it was the case, seconds.',
  }),
  stretches: Type.Array(Stretch, { description: 'At most two thousand, the newest; the rest is counted.' }),
})
export type AlarmTrial = Static<typeof AlarmTrial>

export const tryAlarm = defineRoute({
  method: 'post',
  path: '/api/signals/{signalId}/alarms/trial',
  summary: 'See how often an alarm would have been raised over a span of the past, without stating it',
  role: 'operator',
  at: 'signal',
  params: Type.Object({ signalId: Type.Integer({ minimum: 1, maximum: 2 ** 31 - 1 }) }),
  body: Type.Object(
    {
      occasion: Occasion,
      unless: Suppression,
      limits: SignalSettings.properties.limits,
      from: Instant,
      to: Instant,
    },
    closed,
  ),
  response: AlarmTrial,
  status: 200,
})
