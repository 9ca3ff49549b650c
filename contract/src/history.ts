import { type Static, Type } from '@sinclair/typebox'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'
import { LatestReading } from './signal.ts'

const At = Type.Integer({ description: 'Epoch milliseconds.' })
const Point = Type.Tuple([At, Type.Number()])

/** What a signal said last, up to an instant. */
export const ReadingThen = Type.Object({ signal: Type.Integer(), ...LatestReading.properties })
export type ReadingThen = Static<typeof ReadingThen>

export const getReadingsAt = defineRoute({
  method: 'get',
  path: '/api/readings',
  summary: 'The last reading of signals at an instant of the past; those that had none are left out',
  role: 'viewer',
  at: 'signals',
  query: Type.Object({
    signals: Type.String({
      pattern: '^\\d{1,9}(,\\d{1,9}){0,499}$',
      description: 'Numbers of up to 500 signals, with commas.',
    }),
    at: Instant,
  }),
  response: Type.Array(ReadingThen),
  status: 200,
})

export const getLastReadings = defineRoute({
  method: 'get',
  path: '/api/readings/last',
  summary:
    'The last readings of signals up to an instant, each as it was measured; of a span evenly thinned, where it has more',
  role: 'viewer',
  at: 'signals',
  query: Type.Object({
    signals: Type.String({
      pattern: '^\\d{1,9}(,\\d{1,9}){0,23}$',
      description: 'Numbers of up to 24 signals, with commas.',
    }),
    from: Type.Optional(Instant),
    to: Instant,
    most: Type.Integer({ minimum: 1, maximum: 500, default: 20, description: 'So many of each signal.' }),
  }),
  response: Type.Array(ReadingThen, { description: 'The oldest first.' }),
  status: 200,
})

const Bound = Type.Union([Type.Number(), Type.Null()])
const Span = Type.Object({ low: Bound, high: Bound })

/** What was said of a signal at an instant, as far as it is drawn. */
const DescriptionThen = Type.Object({
  signal: Type.Integer(),
  limits: Type.Union([
    Type.Object({
      lowLow: Bound,
      low: Bound,
      high: Bound,
      highHigh: Bound,
      deadband: Type.Number(),
      onDelay: Type.Number(),
      offDelay: Type.Number(),
    }),
    Type.Null(),
  ]),
  bands: Type.Array(Type.Object({ name: Type.String(), from: Bound, to: Bound })),
  range: Span,
  shown: Span,
})

export const getDescriptionsAt = defineRoute({
  method: 'get',
  path: '/api/descriptions',
  summary: 'The limits, bands and ranges that signals had at an instant of the past',
  role: 'viewer',
  at: 'signals',
  query: getReadingsAt.query,
  response: Type.Array(DescriptionThen),
  status: 200,
})

const Place = Type.Tuple([At, Type.Number(), Type.Number()], { description: 'When, latitude, longitude.' })

/** Where something was first and last, and the bounds of where it was. */
const Places = Type.Object({
  first: Place,
  last: Place,
  south: Type.Number(),
  north: Type.Number(),
  west: Type.Number(),
  east: Type.Number(),
})

/** What the readings of a day or a month come to. */
export const Total = Type.Object({
  from: At,
  to: At,
  count: Type.Integer({ description: 'How many readings count.' }),
  voids: Type.Integer({ description: 'How many are at fault, or were marked bad by a person.' }),
  mean: Type.Union([Type.Number(), Type.Null()]),
  deviation: Type.Union([Type.Number(), Type.Null()], { description: 'The standard deviation.' }),
  lowest: Type.Union([Point, Type.Null()]),
  highest: Type.Union([Point, Type.Null()]),
  first: Type.Union([Point, Type.Null()]),
  last: Type.Union([Point, Type.Null()]),
  changes: Type.Integer({ description: 'How often the state changed; 0 for numbers.' }),
  places: Type.Union([Places, Type.Null()], { description: 'Of positions; the others have none.' }),
  lasted: Type.Array(Type.Tuple([Type.Number(), Type.Integer()]), {
    description:
      'Of switches and choices, the code of each state with how long it was held, ms: from a reading to the next one, also across midnight.',
  }),
})
export type Total = Static<typeof Total>

export const getTotals = defineRoute({
  method: 'get',
  path: '/api/totals',
  summary:
    'What signals come to by hours, days or months of their site, days of 23 or 25 hours where its clock is changed',
  role: 'viewer',
  at: 'signals',
  query: Type.Object({
    signals: Type.String({
      pattern: '^\\d{1,9}(,\\d{1,9}){0,23}$',
      description: 'Numbers of up to 24 signals, with commas.',
    }),
    from: Instant,
    to: Instant,
    by: Type.Unsafe<'hour' | 'day' | 'month'>({ type: 'string', enum: ['hour', 'day', 'month'] }),
  }),
  response: Type.Array(Type.Object({ signal: Type.Integer(), totals: Type.Array(Total) })),
  status: 200,
})
