import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

const Count = Type.Integer({ minimum: 0 })

/** What a replay does to the readings of one signal. */
export const ReplayedSignal = Type.Object({
  signalId: Type.Integer(),
  added: Count,
  changed: Count,
  removed: Count,
  examples: Type.Array(
    Type.Object({
      at: Type.Integer(),
      before: Type.Union([Type.Number(), Type.Null()]),
      after: Type.Union([Type.Number(), Type.Null()]),
    }),
    { description: 'The first few of them; null where there is no reading.' },
  ),
})
export type ReplayedSignal = Static<typeof ReplayedSignal>

const params = Type.Object({ address: Type.String() })
const UpTo = Type.Integer({ description: 'The newest message that takes part, by its id.' })

export const previewReplay = defineRoute({
  method: 'get',
  path: '/api/devices/{address}/replay',
  summary:
    'What would change if the kept messages of a device were run through again, by what the signals are now',
  role: 'owner',
  params,
  response: Type.Object({ upTo: UpTo, messages: Count, signals: Type.Array(ReplayedSignal) }),
  status: 200,
})

export const Replay = Type.Object({
  id: Type.Integer(),
  messages: Count,
  added: Count,
  changed: Count,
  removed: Count,
  createdAt: Type.Integer(),
  undoneAt: Type.Union([Type.Integer(), Type.Null()]),
})
export type Replay = Static<typeof Replay>

export const listReplays = defineRoute({
  method: 'get',
  path: '/api/devices/{address}/replays',
  summary: 'What was replayed, the newest first',
  role: 'owner',
  params,
  response: Type.Array(Replay),
  status: 200,
})

export const createReplay = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/replays',
  summary: 'Run the kept messages of a device through again; readings change in place',
  role: 'owner',
  params,
  body: Type.Object({ upTo: UpTo }, { additionalProperties: false }),
  response: Replay,
  status: 201,
})

export const undoReplay = defineRoute({
  method: 'delete',
  path: '/api/replays/{replayId}',
  summary: 'Put back what a replay changed, except where something newer came since',
  role: 'owner',
  params: Type.Object({ replayId: Type.Integer() }),
  status: 204,
})
