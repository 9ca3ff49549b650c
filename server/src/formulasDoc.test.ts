import { readFileSync } from 'node:fs'
import { formulaDocs } from '@jaunty-sparrow/core/formula'

it('docs/formulas.md tells the functions as they are; npm run formulas writes it anew', () => {
  const page = readFileSync(new URL('../../docs/formulas.md', import.meta.url), 'utf8')
  expect(page).toBe(formulaDocs())
})
