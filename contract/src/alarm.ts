import { alarmAddressPattern, alarmStates } from '@jaunty-sparrow/core/alarm'
import { constantPattern, longestFormula } from '@jaunty-sparrow/core/formula'
import { mostRuleInputs } from '@jaunty-sparrow/core/rule'
import {
  type Alarm as AlarmInCore,
  alarmKeyPattern,
  longestAlarmTime,
  mostAlarms,
  type Occasion as OccasionInCore,
  priorities,
  type Suppression as SuppressionInCore,
} from '@jaunty-sparrow/core/signal'
import { Type } from '@sinclair/typebox'

const closed = { additionalProperties: false }
const Seconds = Type.Number({ minimum: 0, maximum: longestAlarmTime })
const Text = (description: string) => Type.String({ maxLength: 500, description })

const Inputs = Type.Array(
  Type.Object(
    {
      name: Type.String({ pattern: constantPattern, description: 'What the formula calls it.' }),
      of: Type.Union([
        Type.Object(
          {
            named: Type.String({
              minLength: 1,
              maxLength: 80,
              description: 'A signal of the same device, by its name.',
            }),
          },
          closed,
        ),
        Type.Object(
          {
            signal: Type.Integer({
              minimum: 1,
              maximum: 2 ** 31 - 1,
              description: 'A certain one of the same site.',
            }),
          },
          closed,
        ),
      ]),
    },
    closed,
  ),
  { maxItems: mostRuleInputs },
)
const Formula = Type.String({
  minLength: 1,
  maxLength: longestFormula,
  description: 'Over the names of the inputs; it holds where it is not 0. docs/formulas.md has the language.',
})

/** What is a reason to raise an alarm. */
export const Occasion = Type.Unsafe<OccasionInCore>(
  Type.Union(
    [
      Type.Object(
        {
          by: Type.Literal('limit'),
          limit: Type.Unsafe<string>({ type: 'string', enum: ['lowLow', 'low', 'high', 'highHigh'] }),
        },
        {
          ...closed,
          description: 'Beyond a limit of the signal, with the deadband and the delays stated there.',
        },
      ),
      Type.Object(
        {
          by: Type.Literal('rate'),
          most: Type.Number({ exclusiveMinimum: 0, description: 'In the unit of the signal.' }),
          over: Type.Number({ exclusiveMinimum: 0, maximum: 86_400, description: 'Seconds.' }),
        },
        { ...closed, description: 'A change by more than that within that time.' },
      ),
      Type.Object(
        {
          by: Type.Literal('silence'),
          from: Type.Unsafe<string>({ type: 'string', enum: ['late', 'silent'] }),
          atLeast: Seconds,
        },
        { ...closed, description: 'Late or silent, as its cadence has it.' },
      ),
      Type.Object(
        { by: Type.Literal('fault'), atLeast: Seconds },
        { ...closed, description: 'The sensor is at fault, or says what cannot be.' },
      ),
      Type.Object(
        {
          by: Type.Literal('state'),
          values: Type.Array(Type.Integer(), { minItems: 1, maxItems: 64, uniqueItems: true }),
          atLeast: Seconds,
        },
        { ...closed, description: 'One of these states, by their codes.' },
      ),
      Type.Object(
        { by: Type.Literal('formula'), formula: Formula, inputs: Inputs, atLeast: Seconds },
        { ...closed, description: 'What the formula makes is not 0.' },
      ),
    ],
    { description: 'What is a reason to raise it; times are seconds.' },
  ),
)

/** What suppresses an alarm by design. */
export const Suppression = Type.Unsafe<SuppressionInCore | null>(
  Type.Union(
    [
      Type.Object(
        {
          says: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
          formula: Formula,
          inputs: Inputs,
          after: Type.Number({
            minimum: 0,
            maximum: longestAlarmTime,
            description: 'How long it goes on after that, seconds.',
          }),
        },
        closed,
      ),
      Type.Null(),
    ],
    { description: 'While this holds it is suppressed by design.' },
  ),
)

/** An alarm as it is stated with its signal. */
export const Alarm = Type.Unsafe<AlarmInCore>(
  Type.Object(
    {
      key: Type.String({
        pattern: alarmKeyPattern,
        description: 'What it is known by among those of its signal; it stays.',
      }),
      name: Type.String({
        maxLength: 80,
        description: 'What it is called; empty for what its occasion says by itself.',
      }),
      occasion: Occasion,
      priority: Type.Unsafe<string>({ type: 'string', enum: [...priorities] }),
      reason: Text('Why it has that priority.'),
      cause: Text('What it comes of.'),
      consequence: Text('What happens when nobody acts.'),
      response: Text('What to do.'),
      timeToAct: Type.Union([Seconds, Type.Null()], { description: 'How long there is for that, seconds.' }),
      isLatching: Type.Boolean({
        description: 'Whether it stays after it is over until somebody resets it.',
      }),
      unless: Suppression,
    },
    closed,
  ),
)

export const Alarms = Type.Array(Alarm, {
  maxItems: mostAlarms,
  description:
    'What has to be known of it, and by when. A limit marks; it alarms only where that is stated here.',
})

export const AlarmId = Type.String({
  pattern: alarmAddressPattern,
  maxLength: 60,
  description: 'Of what it is, and its key: 12.high of a signal, device-3.allowance, server.disk.',
})

export const AlarmState = Type.Unsafe<(typeof alarmStates)[number]>({
  type: 'string',
  enum: [...alarmStates],
  description: 'As in ISA-18.2; returned is returned to normal and unacknowledged.',
})
