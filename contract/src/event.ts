import { type Static, Type } from '@sinclair/typebox'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'

/** What can have happened; a note, an alarm or a command is written by what comes to do so. */
export const eventKinds = [
  'note',
  'alarm',
  'late-alarm',
  'command',
  'drop-out',
  'server-away',
  'kit',
  'device',
  'signal',
  'site',
  'person',
  'token',
  'link',
  'dashboard',
  'rule',
  'way',
] as const

const EventKind = Type.Unsafe<(typeof eventKinds)[number]>({ type: 'string', enum: [...eventKinds] })
const Id = Type.Union([Type.Integer(), Type.Null()])

/** What happened at a time, or over one. */
export const DatedEvent = Type.Object({
  id: Type.Integer(),
  kind: EventKind,
  at: Type.Integer({ description: 'Epoch milliseconds.' }),
  until: Type.Union([Type.Integer(), Type.Null()], {
    description: 'When it was over; null for what has no length, or goes on.',
  }),
  siteId: Id,
  kitId: Id,
  deviceId: Id,
  signalId: Id,
  alarmId: Type.Union([Type.String(), Type.Null()], { description: 'The alarm that was raised.' }),
  server: Type.Union([Type.String(), Type.Null()]),
  person: Type.Union([Type.String(), Type.Null()]),
  token: Type.Union([Type.String(), Type.Null()], {
    description: 'The token by which a program did it in the name of that person.',
  }),
  change: Type.Union(
    [
      Type.Object({
        before: Type.Record(Type.String(), Type.Unknown()),
        after: Type.Record(Type.String(), Type.Unknown()),
      }),
      Type.Null(),
    ],
    { description: 'What differs: as it was and as it is.' },
  ),
  says: Type.String(),
})
export type DatedEvent = Static<typeof DatedEvent>

export const listEvents = defineRoute({
  method: 'get',
  path: '/api/events',
  summary: 'What happened in a span of time, the newest first, at most a thousand',
  role: 'viewer',
  at: 'somewhere',
  query: Type.Object({
    from: Instant,
    to: Instant,
    kind: Type.Optional(EventKind),
    changes: Type.Optional(Type.Boolean({ description: 'Only what somebody did.' })),
    personId: Type.Optional(Type.Integer()),
    before: Type.Optional(Type.Integer({ description: 'Only those with a lower id: the next page.' })),
    siteId: Type.Optional(Type.Integer()),
    kitId: Type.Optional(Type.Integer()),
    deviceId: Type.Optional(Type.Integer()),
    signalId: Type.Optional(Type.Integer()),
  }),
  response: Type.Array(DatedEvent),
  status: 200,
})

export const createNote = defineRoute({
  method: 'post',
  path: '/api/notes',
  summary:
    'Write down what was at a time, at a site, of a device or of a signal; it is drawn wherever that time is drawn',
  role: 'operator',
  at: 'body',
  body: Type.Object(
    {
      says: Type.String({ minLength: 1, maxLength: 500, pattern: '\\S' }),
      at: Instant,
      siteId: Type.Integer(),
      deviceId: Type.Optional(Type.Integer()),
      signalId: Type.Optional(Type.Integer()),
    },
    { additionalProperties: false },
  ),
  response: DatedEvent,
  status: 201,
})

export const deleteNote = defineRoute({
  method: 'delete',
  path: '/api/notes/{eventId}',
  summary: 'Take a note back: one’s own, or as owner any',
  role: 'operator',
  at: 'event',
  params: Type.Object({ eventId: Type.Integer() }),
  status: 204,
})
