import { readFileSync } from 'node:fs'
import { kitFileSchema } from '@jaunty-sparrow/contract'
import { formulaDocs } from '@jaunty-sparrow/core/formula'

const page = (name: string) => readFileSync(new URL(`../../docs/${name}`, import.meta.url), 'utf8')

// Where one differs, `npm run docs` writes it anew.
it('docs/formulas.md tells the functions as they are', () => {
  expect(page('formulas.md')).toBe(formulaDocs())
})

it('docs/kit.schema.json tells what a kit is as the API takes it', () => {
  expect(JSON.parse(page('kit.schema.json'))).toEqual(JSON.parse(JSON.stringify(kitFileSchema)))
})
