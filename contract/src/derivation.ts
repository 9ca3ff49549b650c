import { constantPattern, longestFormula } from '@jaunty-sparrow/core/formula'
import {
  type Derivation as DerivationInCore,
  type DerivedInput,
  farthestReach,
  mostInputs,
  type SignalReference,
  secondsPer,
  type TimeUnit,
} from '@jaunty-sparrow/core/signal'
import { type Static, type TSchema, Type } from '@sinclair/typebox'

const closed = { additionalProperties: false }
const by = <const Name extends string>(name: Name) => Type.Literal(name)

const Reach = Type.Union(
  [Type.Number({ exclusiveMinimum: 0, maximum: farthestReach }), Type.Literal('day')],
  { description: 'Seconds that are looked back over; "day" is since midnight at the site.' },
)
const Per = Type.Unsafe<TimeUnit>({
  type: 'string',
  enum: Object.keys(secondsPer),
  description: 'The unit of time it is told in.',
})
const WrapsAt = Type.Union([Type.Number({ exclusiveMinimum: 0 }), Type.Null()], {
  description: 'What a counter begins again from 0 at; null where it never does by itself.',
})

const Take = Type.Union(
  [
    Type.Object({ by: by('last') }, closed),
    ...(['mean', 'lowest', 'highest', 'spread', 'index'] as const).map((name) =>
      Type.Object({ by: by(name), over: Reach }, closed),
    ),
    Type.Object({ by: by('rate'), over: Reach, per: Per }, closed),
    Type.Object({ by: by('integral'), over: Reach, per: Per }, closed),
    Type.Object({ by: by('timeAbove'), over: Reach, per: Per, bound: Type.Number() }, closed),
    Type.Object({ by: by('counterRate'), over: Reach, per: Per, wrapsAt: WrapsAt }, closed),
    Type.Object({ by: by('counterIncrease'), over: Reach, wrapsAt: WrapsAt }, closed),
  ],
  { description: 'What is taken of it at an instant, and over which time.' },
)

const Definition = Type.Object({ definition: Type.Integer() }, closed)
const SignalNumber = Type.Object({ signal: Type.Integer() }, closed)
const Named = Type.Object({ named: Type.String({ minLength: 1, maxLength: 80 }) }, closed)

const derivationOver = <Reference extends TSchema>(Of: Reference) =>
  Type.Object(
    {
      formula: Type.String({
        minLength: 1,
        maxLength: longestFormula,
        description: 'Over the names of the signals it follows from; docs/formulas.md has the language.',
      }),
      inputs: Type.Array(
        Type.Object(
          {
            name: Type.String({ pattern: constantPattern, description: 'What the formula calls it.' }),
            of: Of,
            take: Take,
            ageLimit: Type.Number({
              exclusiveMinimum: 0,
              maximum: 604_800,
              description: 'How old its last reading may be, seconds.',
            }),
          },
          closed,
        ),
        { minItems: 1, maxItems: mostInputs },
      ),
    },
    closed,
  )

/** How a signal follows from others. */
export const Derivation = Type.Unsafe<DerivationInCore>(
  derivationOver(
    Type.Union([Definition, SignalNumber], {
      description:
        'A signal of the same kit, at the same device, by its definition; or a certain signal of any device.',
    }),
  ),
)

export const DerivationOrNone = Type.Unsafe<DerivationInCore | null>(
  Type.Union([Derivation, Type.Null()], {
    description: 'How a derived signal follows from others; null for what is measured or controlled.',
  }),
)

/** The same as it may be stated: signals of the kit by their names too. */
export interface StatedDerivation {
  readonly formula: string
  readonly inputs: readonly (Omit<DerivedInput, 'of'> & {
    readonly of: SignalReference | { readonly named: string }
  })[]
}

export const StatedDerivationOrNone = Type.Unsafe<StatedDerivation | null>(
  Type.Union(
    [
      derivationOver(
        Type.Union([Named, SignalNumber, Definition], {
          description:
            'A signal of the same kit by its name or definition, or a certain signal of any device.',
        }),
      ),
      Type.Null(),
    ],
    { description: 'How a derived signal follows from others; null for what is measured or controlled.' },
  ),
)

/** From what a value of a derived signal followed. */
export const DerivedExplanation = Type.Object({
  formula: Type.String(),
  inputs: Type.Array(
    Type.Object({
      name: Type.String({ description: 'What the formula calls it.' }),
      signal: Type.Integer(),
      says: Type.String({ description: 'Which signal it is, of which device, and what is taken of it.' }),
      value: Type.Union([Type.Number(), Type.Null()], {
        description: 'What was taken of it; null where it said nothing.',
      }),
      at: Type.Union([Type.Integer(), Type.Null()], {
        description: 'When its last reading up to then was measured, epoch milliseconds.',
      }),
    }),
  ),
})
export type DerivedExplanation = Static<typeof DerivedExplanation>
