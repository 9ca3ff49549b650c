import { type Static, Type } from '@sinclair/typebox'
import { Calibration } from './calibration.ts'
import { DerivedExplanation } from './derivation.ts'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'
import { SignalValue } from './signal.ts'

const named = Type.Object({ name: Type.String(), value: Type.Number() })

/** How a value came about, from what was sent to what is shown. */
export const ValueExplanation = Type.Object({
  at: Type.Integer({ description: 'When it was measured, epoch milliseconds.' }),
  receivedAt: Type.Integer({ description: 'When it came in, epoch milliseconds.' }),
  raw: Type.Union([Type.Number(), Type.Null()], { description: 'What was sent, where it was converted.' }),
  stored: SignalValue,
  quality: Type.Integer(),
  fault: Type.Union([Type.String(), Type.Null()], { description: 'What it means where it is a fault.' }),
  said: Type.Union(
    [
      Type.Object({
        validFrom: Type.Integer({ description: 'Epoch milliseconds.' }),
        ofDevice: Type.Boolean({ description: 'Whether it was said for this device alone.' }),
        person: Type.Union([Type.String(), Type.Null()]),
        field: Type.Union([Type.String(), Type.Null()]),
      }),
      Type.Null(),
    ],
    { description: 'What was said of the signal when it came in; null where nobody had said anything.' },
  ),
  madeAnew: Type.Union(
    [Type.Object({ at: Type.Integer(), person: Type.Union([Type.String(), Type.Null()]) }), Type.Null()],
    { description: 'When it was made anew of what was sent, by whom; null where it is as it came in.' },
  ),
  conversion: Type.Union([Type.String(), Type.Null()], { description: 'The formula that made it.' }),
  fields: Type.Array(named, { description: 'Other fields of its message that the formula took.' }),
  constants: Type.Array(named, { description: 'Constants that the formula takes, as they are now.' }),
  derived: Type.Union([DerivedExplanation, Type.Null()], {
    description: 'From what it followed; null where it was measured or reported.',
  }),
  calibration: Type.Union([Calibration, Type.Null()]),
  shown: SignalValue,
  message: Type.Union(
    [
      Type.Object({
        id: Type.Integer(),
        door: Type.String(),
        size: Type.Integer({ description: 'Bytes.' }),
        beginning: Type.String({ description: 'The first of it, as a text.' }),
      }),
      Type.Null(),
    ],
    { description: 'Null where it is not kept any more.' },
  ),
})
export type ValueExplanation = Static<typeof ValueExplanation>

export const explainValue = defineRoute({
  method: 'get',
  path: '/api/signals/{signalId}/value',
  summary: 'How the value of a signal at an instant came about: its reading, formula, correction and message',
  role: 'viewer',
  at: 'signal',
  params: Type.Object({ signalId: Type.Integer() }),
  query: Type.Object({ at: Instant }),
  response: ValueExplanation,
  status: 200,
})
