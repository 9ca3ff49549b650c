import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'
import { SignalValue } from './signal.ts'

const Count = Type.Integer({ minimum: 0 })

/** What reading again does to the readings of one signal. */
export const RereadSignal = Type.Object({
  signalId: Type.Integer(),
  added: Count,
  changed: Count,
  removed: Count,
  examples: Type.Array(
    Type.Object({
      at: Type.Integer(),
      before: Type.Union([SignalValue, Type.Null()]),
      after: Type.Union([SignalValue, Type.Null()]),
    }),
    { description: 'The first few of them; null where there is no reading.' },
  ),
})
export type RereadSignal = Static<typeof RereadSignal>

const params = Type.Object({ address: Type.String() })
const UpTo = Type.Integer({ description: 'The newest message that takes part, by its id.' })

export const previewRereading = defineRoute({
  method: 'get',
  path: '/api/devices/{address}/rereading',
  summary:
    'What would change if the kept messages of a device were run through again, by what the signals are now',
  role: 'owner',
  at: 'device',
  params,
  response: Type.Object({ upTo: UpTo, messages: Count, signals: Type.Array(RereadSignal) }),
  status: 200,
})

export const Rereading = Type.Object({
  id: Type.Integer(),
  messages: Count,
  added: Count,
  changed: Count,
  removed: Count,
  createdAt: Type.Integer(),
  undoneAt: Type.Union([Type.Integer(), Type.Null()]),
})
export type Rereading = Static<typeof Rereading>

export const listRereadings = defineRoute({
  method: 'get',
  path: '/api/devices/{address}/rereadings',
  summary: 'What was read again, the newest first',
  role: 'owner',
  at: 'device',
  params,
  response: Type.Array(Rereading),
  status: 200,
})

export const createRereading = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/rereadings',
  summary: 'Run the kept messages of a device through again; readings change in place',
  role: 'owner',
  at: 'device',
  params,
  body: Type.Object({ upTo: UpTo }, { additionalProperties: false }),
  response: Rereading,
  status: 201,
})

export const undoRereading = defineRoute({
  method: 'delete',
  path: '/api/rereadings/{rereadingId}',
  summary: 'Put back what reading again changed, except where something newer came since',
  role: 'owner',
  at: 'rereading',
  params: Type.Object({ rereadingId: Type.Integer() }),
  status: 204,
})
