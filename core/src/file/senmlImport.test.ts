import fc from 'fast-check'
import { isFailure } from '../message/decodeFailure.ts'
import { decodeSenmlJson } from '../message/decodeSenml.ts'
import { cutSenml } from './senmlImport.ts'

it('says the same cut as whole', () => {
  const record = fc.record(
    {
      bn: fc.constantFrom('a:', 'b:'),
      bt: fc.integer({ min: 1_700_000_000, max: 1_800_000_000 }),
      bu: fc.constantFrom('Cel', '%RH'),
      bv: fc.integer({ min: -5, max: 5 }),
      n: fc.constantFrom('x', 'y'),
      t: fc.integer({ min: -100, max: 100 }),
      v: fc.integer(),
    },
    { requiredKeys: ['n', 'v'] },
  )
  fc.assert(
    fc.property(fc.array(record, { minLength: 1 }), fc.integer({ min: 1, max: 7 }), (pack, size) => {
      const whole = decodeSenmlJson(JSON.stringify(pack), 0)
      const cut = [...cutSenml(pack, size)].flatMap((piece) => {
        const read = decodeSenmlJson(JSON.stringify(piece), 0)
        return isFailure(read) ? [] : read
      })
      expect(cut).toEqual(whole)
    }),
  )
})
