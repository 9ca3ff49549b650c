import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

/** Messages of a device that were dropped, and why. */
export const Dropped = Type.Object({
  messages: Type.Integer(),
  lastAt: Type.Integer({ description: 'Epoch milliseconds.' }),
  reason: Type.String(),
})
export type Dropped = Static<typeof Dropped>

/** How the server itself is doing. */
export const Condition = Type.Object({
  server: Type.String({ description: 'What it is called among those on the same database.' }),
  startedAt: Type.Integer({ description: 'Epoch milliseconds.' }),
  faults: Type.Object(
    {
      count: Type.Integer(),
      last: Type.Union([
        Type.Object({ at: Type.Integer(), where: Type.String(), message: Type.String() }),
        Type.Null(),
      ]),
    },
    { description: 'What went wrong where nobody had foreseen it, since the start; the server went on.' },
  ),
  clock: Type.Union(
    [
      Type.Object({
        why: Type.Union([Type.Literal('ahead'), Type.Literal('behind'), Type.Literal('database')]),
        clock: Type.Integer({ description: 'What the clock of the server said, epoch milliseconds.' }),
        against: Type.Integer({
          description: 'When a server was known to live last, or the clock of the database.',
        }),
      }),
      Type.Null(),
    ],
    { description: 'Why the clock is not trusted; null when it is. Meanwhile nothing is dropped.' },
  ),
  storage: Type.Object(
    {
      databaseBytes: Type.Integer(),
      freeBytes: Type.Union([Type.Integer(), Type.Null()], {
        description: 'What is left on the disk of the database; null where that is another machine.',
      }),
      messageDays: Type.Integer({ description: 'How long messages are kept; readings are kept for good.' }),
    },
    { description: 'What is kept, and how much room there is.' },
  ),
  dropped: Type.Array(Type.Object({ address: Type.String(), ...Dropped.properties }), {
    description: 'Devices of which messages were dropped since the start.',
  }),
})
export type Condition = Static<typeof Condition>

export const getCondition = defineRoute({
  method: 'get',
  path: '/api/condition',
  summary: 'How the server itself is doing: its faults, its clock, and what it had to drop',
  role: 'owner',
  at: 'everywhere',
  response: Condition,
  status: 200,
})

export const confirmClock = defineRoute({
  method: 'post',
  path: '/api/condition/clock',
  summary: 'Say that the clock of the server is right, so that what has had its time is dropped again',
  role: 'owner',
  at: 'everywhere',
  status: 204,
})
