import { longestUnit } from '@jaunty-sparrow/core/units'
import { type Static, Type } from '@sinclair/typebox'

export const UcumCode = Type.String({
  minLength: 1,
  maxLength: longestUnit,
  description: 'UCUM code, such as Cel, % or ug/m3.',
})

/** Which units somebody wants to see in the place of which. */
export const UnitChoices = Type.Array(
  Type.Object({ unit: UcumCode, as: UcumCode }, { additionalProperties: false }),
  { maxItems: 64, description: 'What is in one unit is shown in another one of the same dimension.' },
)
export type UnitChoices = Static<typeof UnitChoices>

export const ShownAs = Type.Object(
  { unit: UcumCode, multiply: Type.Number(), divide: Type.Number(), add: Type.Number() },
  {
    description:
      'How whoever asks wants to see it, as they or the site chose: value × multiply ÷ divide + add. What is told stays in its own unit.',
  },
)
export type ShownAs = Static<typeof ShownAs>
