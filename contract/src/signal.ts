import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

export const SignalKind = Type.Union([Type.Literal('number'), Type.Literal('switch')])

const FieldPointer = Type.String({
  pattern: '^(/[^/]+)+$',
  maxLength: 200,
  description: 'JSON Pointer of the field the signal is read from, such as /probes/top.',
})
const SignalName = Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' })
const UnitCode = Type.Union([Type.String({ minLength: 1, maxLength: 20 }), Type.Null()], {
  description: 'UCUM code, such as Cel or %.',
})
const Bound = Type.Union([Type.Number(), Type.Null()])

/** Which of its readings are stored; live screens see all of them. */
export const Keep = Type.Union(
  [
    Type.Object({ by: Type.Literal('every') }, { additionalProperties: false }),
    Type.Object(
      {
        by: Type.Literal('change'),
        deadband: Type.Number({ minimum: 0, description: 'In the unit of the signal.' }),
        heartbeat: Type.Number({
          minimum: 1,
          maximum: 86_400,
          description: 'Seconds; one is stored at least this often.',
        }),
      },
      { additionalProperties: false },
    ),
    Type.Object(
      {
        by: Type.Literal('interval'),
        seconds: Type.Integer({ minimum: 1, maximum: 3600 }),
        of: Type.Union([Type.Literal('last'), Type.Literal('mean'), Type.Literal('range')], {
          description: 'The last reading, their mean, or the lowest and the highest.',
        }),
      },
      { additionalProperties: false },
    ),
  ],
  { description: 'Which of its readings are stored; live screens see all of them.' },
)

export const LatestReading = Type.Object({
  at: Type.Integer({ description: 'When it was measured, epoch milliseconds.' }),
  receivedAt: Type.Integer({ description: 'When it came in, epoch milliseconds.' }),
  value: Type.Number(),
  quality: Type.Integer({ description: '0 good, 1 beyond the range of the sensor.' }),
})
export type LatestReading = Static<typeof LatestReading>

/** A signal of one device: the kit's definition with the device's own latest reading. */
export const Signal = Type.Object({
  id: Type.Integer(),
  definitionId: Type.Integer(),
  field: Type.String(),
  name: Type.String(),
  kind: SignalKind,
  state: Type.Union([Type.Literal('suggested'), Type.Literal('accepted'), Type.Literal('ignored')]),
  unit: UnitCode,
  rangeLow: Bound,
  rangeHigh: Bound,
  keep: Keep,
  latest: Type.Union([LatestReading, Type.Null()]),
})
export type Signal = Static<typeof Signal>

/** A signal as it is stated when a kit is made. */
export const NewSignalDefinition = Type.Object(
  {
    field: FieldPointer,
    name: SignalName,
    kind: SignalKind,
    unit: UnitCode,
    rangeLow: Type.Optional(Bound),
    rangeHigh: Type.Optional(Bound),
    keep: Type.Optional(Keep),
  },
  { additionalProperties: false },
)
export type NewSignalDefinition = Static<typeof NewSignalDefinition>

export const changeSignalDefinition = defineRoute({
  method: 'patch',
  path: '/api/signal-definitions/{definitionId}',
  summary:
    'Accept or ignore a suggested signal, rename it, give it its unit, read it from another field, store less of it; reaches every device of the kit',
  role: 'owner',
  params: Type.Object({ definitionId: Type.Integer() }),
  body: Type.Partial(
    Type.Object({
      state: Type.Union([Type.Literal('accepted'), Type.Literal('ignored')]),
      name: SignalName,
      unit: UnitCode,
      field: FieldPointer,
      keep: Keep,
    }),
    { additionalProperties: false, minProperties: 1 },
  ),
  status: 204,
})

export const Trace = Type.Object({
  signal: Type.Integer(),
  points: Type.Array(Type.Tuple([Type.Integer(), Type.Number()]), {
    description:
      'Instants in epoch milliseconds with their values, thinned to what the asked number of pixels can show.',
  }),
})
export type Trace = Static<typeof Trace>

export const getTraces = defineRoute({
  method: 'get',
  path: '/api/traces',
  summary: 'The course of signals over at most a day, as it is drawn',
  role: 'viewer',
  query: Type.Object({
    signals: Type.String({
      pattern: '^\\d{1,9}(,\\d{1,9}){0,99}$',
      description: 'Numbers of up to 100 signals, with commas.',
    }),
    from: Type.Integer({ description: 'Epoch milliseconds.' }),
    to: Type.Integer({ description: 'Epoch milliseconds.' }),
    columns: Type.Integer({
      minimum: 10,
      maximum: 4000,
      description: 'Pixel columns the trace is drawn on.',
    }),
  }),
  response: Type.Array(Trace),
  status: 200,
})
