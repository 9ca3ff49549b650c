import { type Static, Type } from '@sinclair/typebox'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'

const params = Type.Object({ signalId: Type.Integer() })
const closed = { additionalProperties: false }

/** A span of a signal whose values were made anew of what was sent, by the formula that held then. */
export const Recomputation = Type.Object({
  id: Type.Integer(),
  from: Type.Integer(),
  to: Type.Integer(),
  conversion: Type.Union([Type.String(), Type.Null()]),
  changed: Type.Integer({ description: 'How many readings changed so far.' }),
  isDone: Type.Boolean(),
  person: Type.Union([Type.String(), Type.Null()]),
  createdAt: Type.Integer(),
  undoneAt: Type.Union([Type.Integer(), Type.Null()]),
})
export type Recomputation = Static<typeof Recomputation>

export const previewRecomputation = defineRoute({
  method: 'get',
  path: '/api/signals/{signalId}/recomputation',
  summary: 'What would become of the readings of a signal in a span if they were made anew of what was sent',
  role: 'owner',
  at: 'signal',
  params,
  query: Type.Object({ from: Instant, to: Instant }),
  response: Type.Object({
    readings: Type.Integer({ description: 'Readings in the span whose raw value is kept.' }),
    points: Type.Array(Type.Tuple([Type.Integer(), Type.Number(), Type.Number()]), {
      description: 'Up to 200 of them, evenly over the span: when, the value now, the value then.',
    }),
  }),
  status: 200,
})

export const listRecomputations = defineRoute({
  method: 'get',
  path: '/api/signals/{signalId}/recomputations',
  summary: 'What was made anew, the newest first',
  role: 'owner',
  at: 'signal',
  params,
  response: Type.Array(Recomputation),
  status: 200,
})

export const createRecomputation = defineRoute({
  method: 'post',
  path: '/api/signals/{signalId}/recomputations',
  summary:
    'Make the values of a span anew of what was sent, by the formula that holds now; a long one goes on after the answer',
  role: 'owner',
  at: 'signal',
  params,
  body: Type.Object({ from: Instant, to: Instant }, closed),
  response: Recomputation,
  status: 201,
})

export const undoRecomputation = defineRoute({
  method: 'delete',
  path: '/api/signals/{signalId}/recomputations/{recomputationId}',
  summary: 'Put back what was made anew, to the digit',
  role: 'owner',
  at: 'signal',
  params: Type.Object({ signalId: Type.Integer(), recomputationId: Type.Integer() }),
  status: 204,
})
