import fc from 'fast-check'
import { decodeJson } from '../message/decodeJson.ts'
import { isUnit } from '../units/index.ts'
import { guessUnits } from './guessUnit.ts'
import { unitCorpus } from './unitCorpus.ts'

/** The numbers of a message, as its decoding tells them. */
function numbersOf(message: object) {
  const decoded = decodeJson(JSON.stringify(message), 0)
  if ('failure' in decoded) throw new Error(decoded.failure)
  return decoded.flatMap(({ fields }) =>
    fields.flatMap(({ pointer, value }) => (typeof value === 'number' ? [{ pointer, value }] : [])),
  )
}

it('guesses at least nine of ten fields of the frozen messages as who knows the trade would', () => {
  const wrong: string[] = []
  let all = 0
  for (const { message, units } of unitCorpus) {
    const guessed = guessUnits(numbersOf(message))
    for (const [pointer, unit] of Object.entries(units)) {
      all++
      const said = guessed.get(pointer) ?? null
      if (said !== unit) wrong.push(`${pointer} of ${JSON.stringify(message)}: ${said}, not ${unit}`)
    }
  }
  expect(unitCorpus).toHaveLength(40)
  if (wrong.length > all * 0.1) expect(wrong).toEqual([])
})

it('has only units that are some, whatever a board calls its fields', () => {
  const name = fc.oneof(fc.string({ maxLength: 30 }), fc.constantFrom('temp', 'pressure_x', 'bat', 'a/x'))
  fc.assert(
    fc.property(fc.array(fc.tuple(name, fc.double({ noNaN: true })), { maxLength: 8 }), (fields) => {
      const guessed = guessUnits(fields.map(([text, value]) => ({ pointer: `/${text}`, value })))
      for (const unit of guessed.values()) expect(isUnit(unit)).toBe(true)
    }),
  )
})
