import {
  longestWait,
  mostTellings,
  noticeKinds,
  type Telling as TellingInCore,
} from '@jaunty-sparrow/core/notice'
import { priorities } from '@jaunty-sparrow/core/signal'
import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

const closed = { additionalProperties: false }
const orNull = <T extends Parameters<typeof Type.Union>[0][number]>(type: T) =>
  Type.Union([type, Type.Null()])
const At = orNull(Type.Integer({ description: 'Epoch milliseconds.' }))
const Id = Type.Integer({ minimum: 1, maximum: 2 ** 31 - 1 })
const minute = { minimum: 0, maximum: 1439 }

/** Of which alarms somebody is told, when, and after how long. */
export const Telling = Type.Unsafe<TellingInCore>(
  Type.Object(
    {
      priorities: Type.Array(Type.Unsafe<string>({ type: 'string', enum: [...priorities] }), {
        uniqueItems: true,
        maxItems: priorities.length,
      }),
      days: Type.Array(Type.Integer({ minimum: 1, maximum: 7 }), {
        uniqueItems: true,
        description: 'Of the week, 1 for Monday, by the clock of the site.',
      }),
      from: Type.Integer({ ...minute, description: 'Minutes after midnight.' }),
      to: Type.Integer({ ...minute, description: 'The same; equal to `from` for all day.' }),
      wait: Type.Number({
        minimum: 0,
        maximum: longestWait,
        description: 'How long nobody may have seen it, seconds; 0 for at once.',
      }),
    },
    closed,
  ),
)

export const wayKinds = ['mail', 'webhook', 'push'] as const
export type WayKind = (typeof wayKinds)[number]
const Kind = Type.Unsafe<WayKind>({ type: 'string', enum: [...wayKinds] })
const Name = Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' })
const Target = Type.String({
  minLength: 3,
  maxLength: 300,
  description: 'An address of mail, the URL of a webhook, or what a browser that is pushed to is called.',
})
/** What a browser says of where it is pushed to (Push API). */
const Subscription = Type.Object(
  {
    endpoint: Type.String({ maxLength: 1000, pattern: '^https?://' }),
    keys: Type.Object(
      {
        p256dh: Type.String({ pattern: '^[A-Za-z0-9_-]{87}=?$' }),
        auth: Type.String({ pattern: '^[A-Za-z0-9_-]{22}(==)?$' }),
      },
      closed,
    ),
  },
  closed,
)
export type Subscription = Static<typeof Subscription>
const Tellings = Type.Array(Telling, { maxItems: mostTellings })

/** A way by which somebody is told. */
export const Way = Type.Object({
  id: Type.Integer(),
  siteId: Type.Union([Type.Integer(), Type.Null()], {
    description: 'Of which site it tells; null for all, and for the server.',
  }),
  kind: Kind,
  name: Type.String(),
  target: Type.String(),
  tellings: Tellings,
  failing: Type.Union([Type.String(), Type.Null()], {
    description: 'What came back last, where it was not taken; null where it was.',
  }),
  lastAt: At,
})
export type Way = Static<typeof Way>

export const listWays = defineRoute({
  method: 'get',
  path: '/api/ways',
  summary: 'The ways by which people are told, and of what by each; and whether mail can be sent',
  role: 'operator',
  at: 'somewhere',
  response: Type.Object({ ways: Type.Array(Way), mail: Type.Boolean() }),
  status: 200,
})

export const createWay = defineRoute({
  method: 'post',
  path: '/api/ways',
  summary:
    'Make a way by which somebody is told: owners any, operators pushes to their own browser. The secret that a webhook is signed with is told once',
  role: 'operator',
  at: 'body',
  body: Type.Object(
    {
      siteId: orNull(Id),
      kind: Kind,
      name: Name,
      target: Target,
      tellings: Tellings,
      subscription: Type.Optional(Subscription),
    },
    closed,
  ),
  response: Type.Object({
    way: Way,
    secret: Type.Union([Type.String(), Type.Null()], {
      description: 'What a webhook is signed with (HMAC-SHA-256), base64; null for other ways.',
    }),
  }),
  status: 201,
})

export const getPushKey = defineRoute({
  method: 'get',
  path: '/api/ways/push-key',
  summary: 'The key by which browsers know pushes of this server (VAPID, RFC 8292)',
  role: 'operator',
  at: 'somewhere',
  response: Type.Object({ key: Type.String({ description: 'base64url' }) }),
  status: 200,
})

export const changeWay = defineRoute({
  method: 'put',
  path: '/api/ways/{wayId}',
  summary: 'Say otherwise what a way is called, where it leads, and of what it tells',
  role: 'owner',
  at: 'way',
  params: Type.Object({ wayId: Id }),
  body: Type.Object({ name: Name, target: Target, tellings: Tellings }, closed),
  response: Way,
  status: 200,
})

export const deleteWay = defineRoute({
  method: 'delete',
  path: '/api/ways/{wayId}',
  summary: 'Tell nobody by a way any more',
  role: 'owner',
  at: 'way',
  params: Type.Object({ wayId: Id }),
  status: 204,
})

export const noticeStates = ['gathers', 'waits', 'sent', 'given-up'] as const

/** What was sent, or waits to be. */
export const Notice = Type.Object({
  id: Type.Integer(),
  wayId: orNull(Type.Integer()),
  wayName: Type.String(),
  wayKind: Kind,
  kind: Type.Unsafe<(typeof noticeKinds)[number]>({ type: 'string', enum: [...noticeKinds] }),
  state: Type.Unsafe<(typeof noticeStates)[number]>({ type: 'string', enum: [...noticeStates] }),
  subject: Type.String(),
  count: Type.Integer({ description: 'Of how many alarms it tells.' }),
  createdAt: Type.Integer(),
  sentAt: At,
  dueAt: At,
  attempts: Type.Integer(),
  answer: Type.String({ description: 'What came back last.' }),
  seenAt: Type.Union([Type.Integer(), Type.Null()], { description: 'When it was answered by its link.' }),
})
export type Notice = Static<typeof Notice>

export const testWay = defineRoute({
  method: 'post',
  path: '/api/ways/{wayId}/test',
  summary: 'Send a test by a way',
  role: 'operator',
  at: 'way',
  params: Type.Object({ wayId: Id }),
  response: Notice,
  status: 201,
})

export const listNotices = defineRoute({
  method: 'get',
  path: '/api/notices',
  summary: 'What was sent to whom, with its answer, the newest first, at most a hundred',
  role: 'operator',
  at: 'somewhere',
  query: Type.Object({ before: Type.Optional(Id), wayId: Type.Optional(Id) }),
  response: Type.Array(Notice),
  status: 200,
})

/** What a webhook is called with. */
export const NoticeCall = Type.Object({
  id: Type.String({ description: 'The same however often it is sent; webhook-id says it too.' }),
  kind: Type.Unsafe<(typeof noticeKinds)[number]>({ type: 'string', enum: [...noticeKinds] }),
  at: Type.String({ format: 'date-time' }),
  says: Type.String(),
  inAll: Type.Integer({ description: 'Of how many alarms it tells.' }),
  alarms: Type.Array(
    Type.Object({
      alarmId: Type.String(),
      title: Type.String(),
      says: Type.String({ description: 'The value and its limit; empty where there is none.' }),
      priority: Type.Unsafe<(typeof priorities)[number]>({ type: 'string', enum: [...priorities] }),
      consequence: Type.String(),
      response: Type.String({ description: 'What to do.' }),
      timeToAct: Type.Union([Type.Number(), Type.Null()], { description: 'Seconds.' }),
      raisedAt: Type.Integer({ description: 'Epoch milliseconds.' }),
      overAt: At,
    }),
    { description: 'Those to answer first, at most thirty.' },
  ),
  answerAt: Type.Union([Type.String(), Type.Null()], {
    description: 'Where it is shown and acknowledged, once; null where there is nothing to.',
  }),
})

const Token = Type.Object({ token: Type.String({ minLength: 20, maxLength: 100 }) }, closed)

/** An alarm of a notice, for whoever has its link. */
const SeenLine = Type.Object({
  title: Type.String(),
  says: Type.String(),
  priority: Type.Unsafe<(typeof priorities)[number]>({ type: 'string', enum: [...priorities] }),
  consequence: Type.String(),
  response: Type.String(),
  timeToAct: orNull(Type.Number()),
  raisedAt: Type.Integer(),
  overAt: At,
  isWaiting: Type.Boolean({ description: 'Whether nobody has seen it yet.' }),
})

export const readSeenLink = defineRoute({
  method: 'post',
  path: '/api/seen/read',
  summary: 'What a notice is about, by the link that stands in it',
  role: 'anyone',
  body: Token,
  response: Type.Object({
    wayName: Type.String(),
    lines: Type.Array(SeenLine),
    inAll: Type.Integer(),
    usedAt: Type.Union([Type.Integer(), Type.Null()], { description: 'When it was used; it works once.' }),
  }),
  status: 200,
})

export const useSeenLink = defineRoute({
  method: 'post',
  path: '/api/seen',
  summary: 'Acknowledge the alarms of a notice by the link that stands in it: once',
  role: 'anyone',
  body: Type.Object(
    { token: Token.properties.token, word: Type.Optional(Type.String({ maxLength: 300 })) },
    closed,
  ),
  response: Type.Object({ moved: Type.Integer({ description: 'How many alarms waited for it.' }) }),
  status: 200,
})
