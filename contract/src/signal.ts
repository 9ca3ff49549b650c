import { constantPattern, longestFormula } from '@jaunty-sparrow/core/formula'
import { signalKinds, signalOrigins } from '@jaunty-sparrow/core/signal'
import { type Static, Type } from '@sinclair/typebox'
import { Alarms } from './alarm.ts'
import { DerivationOrNone, StatedDerivationOrNone } from './derivation.ts'
import { Presence } from './presence.ts'
import { defineRoute } from './route.ts'
import { ShownAs, UcumCode } from './unit.ts'

const oneOf = <const T extends readonly string[]>(values: T) =>
  Type.Unsafe<T[number]>({ type: 'string', enum: [...values] })

export const SignalKind = oneOf(signalKinds)
const SignalOrigin = oneOf(signalOrigins)

const FieldPointer = Type.String({
  pattern: '^(/[^/]+)*$',
  maxLength: 200,
  description:
    'JSON Pointer of the field the signal is read from, such as /probes/top. Of like parts one segment is {part}: /probes/{part}/temperature. A derived signal is read from none: it is empty.',
})
const SignalName = Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' })
const UnitCode = Type.Union([UcumCode, Type.Null()])
const Bound = Type.Union([Type.Number(), Type.Null()])
const closed = { additionalProperties: false }

const Span = (description: string) => Type.Object({ low: Bound, high: Bound }, { ...closed, description })

export const Choice = Type.Object(
  {
    code: Type.Integer({ minimum: -1_000_000, maximum: 1_000_000 }),
    name: Type.String({ minLength: 1, maxLength: 40, pattern: '\\S' }),
  },
  closed,
)

/** Which of its readings are stored; live screens see all of them. */
export const StoringRule = Type.Union(
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

const Cadence = Type.Union([
  Type.Object(
    {
      by: Type.Union([Type.Literal('always'), Type.Literal('sleep')]),
      seconds: Type.Number({ exclusiveMinimum: 0, maximum: 604_800 }),
    },
    closed,
  ),
  Type.Object({ by: Type.Literal('event') }, closed),
])

/** How often something is said: by one that is awake always, that sleeps in between, or that speaks when something happens. */
export const StatedCadence = Type.Union([Cadence, Type.Null()], {
  description: 'Null lets it be learned from what comes in.',
})

/** The formula that makes the unit of a signal of what is sent. */
export const Conversion = Type.Union(
  [Type.String({ minLength: 1, maxLength: longestFormula }), Type.Null()],
  {
    description:
      'The formula that makes its unit of what is sent, x; what was sent is kept beside it. docs/formulas.md has the language.',
  },
)

const settings = {
  unit: UnitCode,
  decimals: Type.Union([Type.Integer({ minimum: 0, maximum: 9 }), Type.Null()]),
  range: Span('What the sensor can plausibly say; a value beyond it is kept and marked.'),
  shown: Span('What scales and charts show.'),
  bands: Type.Array(
    Type.Object({ name: Type.String({ minLength: 1, maxLength: 40 }), from: Bound, to: Bound }, closed),
    { maxItems: 12, description: 'Named ranges, in order.' },
  ),
  limits: Type.Union([
    Type.Object(
      {
        lowLow: Bound,
        low: Bound,
        high: Bound,
        highHigh: Bound,
        deadband: Type.Number({ minimum: 0 }),
        onDelay: Type.Number({ minimum: 0, maximum: 86_400, description: 'Seconds.' }),
        offDelay: Type.Number({ minimum: 0, maximum: 86_400, description: 'Seconds.' }),
      },
      closed,
    ),
    Type.Null(),
  ]),
  alarms: Alarms,
  storing: StoringRule,
  conversion: Conversion,
  derivation: DerivationOrNone,
  faults: Type.Array(
    Type.Object({ value: Type.Number(), name: Type.String({ minLength: 1, maxLength: 60 }) }, closed),
    { maxItems: 12, description: 'Values that mean that the sensor is at fault, as they are sent.' },
  ),
  control: Type.Union(
    [
      Type.Object(
        {
          step: Type.Union([Type.Number({ exclusiveMinimum: 0 }), Type.Null()], {
            description: 'Numbers go by this step.',
          }),
          holds: Type.Boolean({ description: 'Whether it has to be held to confirm.' }),
          validFor: Type.Union([Type.Number({ minimum: 1, maximum: 604_800 }), Type.Null()], {
            description: 'How long a command holds, seconds; null for as long as fits how its device speaks.',
          }),
          role: oneOf(['operator', 'owner']),
          bare: Type.Boolean({
            description: 'Whether the board gets the bare value, without number and end.',
          }),
          leastOff: Type.Number({ minimum: 0, maximum: 86_400, description: 'Seconds.' }),
          leastOn: Type.Number({ minimum: 0, maximum: 86_400, description: 'Seconds.' }),
          mostAnHour: Type.Union([Type.Integer({ minimum: 1, maximum: 3600 }), Type.Null()]),
          unless: Type.Array(
            Type.Object(
              {
                says: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
                formula: Type.String({ minLength: 1, maxLength: longestFormula }),
                inputs: Type.Array(
                  Type.Object(
                    {
                      name: Type.String({ pattern: constantPattern }),
                      named: Type.String({ minLength: 1, maxLength: 80 }),
                    },
                    closed,
                  ),
                  { maxItems: 8 },
                ),
              },
              closed,
            ),
            { maxItems: 8, description: 'What must not be the case then, over signals of the same device.' },
          ),
          shutsDown: Type.Optional(
            Type.String({
              maxLength: 200,
              description:
                'Where it shuts its device down: how that returns. Then the device is not late until it is heard again.',
            }),
          ),
          setsInterval: Type.Optional(
            Type.Boolean({ description: 'Whether what it reports is how often its device speaks.' }),
          ),
        },
        closed,
      ),
      Type.Null(),
    ],
    { description: 'What may be asked of it, where it is controlled; null for what usually may.' },
  ),
  greatestRate: Type.Union([Type.Number({ exclusiveMinimum: 0 }), Type.Null()], {
    description: 'What it can change by at most in a second.',
  }),
  cadence: Type.Union([Cadence, Type.Null()], { description: 'Null for as often as its device speaks.' }),
  order: Type.Integer({ minimum: -100_000, maximum: 100_000 }),
  group: Type.Union([Type.String({ minLength: 1, maxLength: 60 }), Type.Null()]),
}

/** Numbers that conversions may name: the resistor beside the sensor, the height of the mast. */
export const Constants = Type.Record(
  Type.String({ pattern: constantPattern }),
  Type.Number({ minimum: -1e15, maximum: 1e15 }),
  { maxProperties: 32, description: 'Numbers that conversions may name.' },
)

/** What a kit says of a signal, and what a device may have its own of. */
export const SignalSettings = Type.Object(settings, closed)
export type SignalSettings = Static<typeof SignalSettings>
const SettingName = oneOf(Object.keys(settings) as (keyof SignalSettings)[])

export const SignalValue = Type.Union([
  Type.Number(),
  Type.String(),
  Type.Object({ lat: Type.Number(), lon: Type.Number(), height: Type.Optional(Type.Number()) }),
])

export const LatestReading = Type.Object({
  at: Type.Integer({ description: 'When it was measured, epoch milliseconds.' }),
  receivedAt: Type.Integer({ description: 'When it came in, epoch milliseconds.' }),
  value: SignalValue,
  quality: Type.Integer({
    description:
      'Bits: 1 beyond the plausible range, 2 changed too fast, 4 its clock is doubted, 8 at fault, 16 marked bad by a person.',
  }),
})
export type LatestReading = Static<typeof LatestReading>

const SignalState = oneOf(['suggested', 'accepted', 'ignored'])

const described = {
  field: FieldPointer,
  name: SignalName,
  kind: SignalKind,
  origin: SignalOrigin,
  choices: Type.Array(Choice, { maxItems: 64 }),
}

export const Doubt = Type.Object(
  { why: Type.String(), person: Type.String(), at: Type.Integer({ description: 'Epoch milliseconds.' }) },
  { description: 'Why somebody does not trust it just now.' },
)

/** A signal of one device: the kit's definition and the device's own settings together, with its latest reading. */
export const Signal = Type.Object({
  id: Type.Integer(),
  definitionId: Type.Integer(),
  part: Type.String({ description: 'Which of like parts it is of; empty where there is only one.' }),
  partName: Type.String({
    description: 'What that part is called by people; empty where there is only one.',
  }),
  isFormer: Type.Boolean({
    description: 'Whether the device had it by another kit: nothing is added to it any more.',
  }),
  ...described,
  field: Type.String(),
  state: SignalState,
  ...settings,
  presence: Presence,
  own: Type.Array(SettingName, { description: 'The settings that are of this device and not of its kit.' }),
  doubt: Type.Union([Doubt, Type.Null()]),
  isCalibrated: Type.Boolean({
    description: 'Whether its values are told as corrected against a reference.',
  }),
  shownAs: Type.Union([ShownAs, Type.Null()]),
  latest: Type.Union([LatestReading, Type.Null()]),
})
export type Signal = Static<typeof Signal>

/** A signal as it is stated when a kit is made; what is left out is as it usually is. */
export const NewSignalDefinition = Type.Object(
  {
    ...described,
    origin: Type.Optional(SignalOrigin),
    choices: Type.Optional(Type.Array(Choice, { maxItems: 64 })),
    ...Type.Partial(SignalSettings).properties,
    derivation: Type.Optional(StatedDerivationOrNone),
  },
  closed,
)
export type NewSignalDefinition = Static<typeof NewSignalDefinition>

/** A signal as a kit defines it. */
export const SignalDefinition = Type.Object({
  id: Type.Integer(),
  ...described,
  field: Type.String(),
  state: SignalState,
  ...settings,
})
export type SignalDefinition = Static<typeof SignalDefinition>

export const changeSignalDefinition = defineRoute({
  method: 'patch',
  path: '/api/signal-definitions/{definitionId}',
  summary:
    'Accept or ignore a suggested signal, rename it, read it from another field, or change what its kit says of it; reaches every device of the kit',
  role: 'owner',
  at: 'definition',
  params: Type.Object({ definitionId: Type.Integer() }),
  body: Type.Partial(
    Type.Object({
      state: oneOf(['accepted', 'ignored']),
      name: SignalName,
      field: FieldPointer,
      kind: SignalKind,
      choices: Type.Array(Choice, { maxItems: 64 }),
      ...settings,
    }),
    { additionalProperties: false, minProperties: 1 },
  ),
  status: 204,
})

export const signalParams = Type.Object({ signalId: Type.Integer() })

export const changeOwnSettings = defineRoute({
  method: 'patch',
  path: '/api/signals/{signalId}/own',
  summary:
    'Give one device its own settings of a signal; a setting that is null here is taken back to what the kit says',
  role: 'owner',
  at: 'signal',
  params: signalParams,
  body: Type.Object(
    {
      set: Type.Optional(Type.Partial(SignalSettings, closed)),
      takeBack: Type.Optional(Type.Array(SettingName, { uniqueItems: true })),
    },
    { additionalProperties: false, minProperties: 1 },
  ),
  status: 204,
})

export const changeDoubt = defineRoute({
  method: 'patch',
  path: '/api/signals/{signalId}/doubt',
  summary: 'Mark a signal doubtful, with a reason that is shown wherever it is, or trust it again',
  role: 'operator',
  at: 'signal',
  params: signalParams,
  body: Type.Object(
    { why: Type.Union([Type.String({ minLength: 1, maxLength: 500, pattern: '\\S' }), Type.Null()]) },
    closed,
  ),
  status: 204,
})

export const DescriptionVersion = Type.Object({
  validFrom: Type.Integer({ description: 'Epoch milliseconds.' }),
  ofDevice: Type.Boolean({ description: 'Whether it was said for this device alone.' }),
  person: Type.Union([Type.String(), Type.Null()]),
  described: Type.Record(Type.String(), Type.Unknown(), {
    description: 'What was said: of the kit all of it, of the device its own settings.',
  }),
})

export const listDescriptionVersions = defineRoute({
  method: 'get',
  path: '/api/signals/{signalId}/versions',
  summary: 'What was said of a signal and when, the newest first, so that an old value can be explained',
  role: 'viewer',
  at: 'signal',
  params: signalParams,
  response: Type.Array(DescriptionVersion),
  status: 200,
})

export const proposeFaults = defineRoute({
  method: 'get',
  path: '/api/signals/{signalId}/faults',
  summary: 'Which values that came are likely to mean that the sensor is at fault, and how often they came',
  role: 'viewer',
  at: 'signal',
  params: signalParams,
  response: Type.Array(
    Type.Object({
      value: Type.Number({ description: 'As it is sent.' }),
      name: Type.String({ description: 'What it is likely to mean.' }),
      times: Type.Integer({ description: 'Among the last readings.' }),
    }),
  ),
  status: 200,
})
