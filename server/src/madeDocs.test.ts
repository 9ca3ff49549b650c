import { readFileSync } from 'node:fs'
import { DashboardDocument, kitFileSchema } from '@jaunty-sparrow/contract'
import { formulaDocs } from '@jaunty-sparrow/core/formula'
import { instruments } from '@jaunty-sparrow/drawings/registry'
import { decode } from 'fast-png'
import { instrumentDocs } from './paper/instrumentDocs.ts'
import { instrumentSheet } from './paper/instrumentSheet.tsx'
import { samplePaper } from './paper/samplePaper.ts'

const page = (name: string) => readFileSync(new URL(`../../docs/${name}`, import.meta.url), 'utf8')

// Where one differs, `npm run docs` writes it anew.
it('docs/formulas.md tells the functions as they are', () => {
  expect(page('formulas.md')).toBe(formulaDocs())
})

it('docs/kit.schema.json tells what a kit is as the API takes it', () => {
  expect(JSON.parse(page('kit.schema.json'))).toEqual(JSON.parse(JSON.stringify(kitFileSchema)))
})

it('docs/dashboard.schema.json tells what a dashboard is as the API takes it', () => {
  expect(JSON.parse(page('dashboard.schema.json'))).toEqual(JSON.parse(JSON.stringify(DashboardDocument)))
})

it('docs/instruments.md tells the instruments as they are', () => {
  expect(page('instruments.md')).toBe(instrumentDocs())
})

it.each([2, 4] as const)('a page on paper looks in %i greys as its picture in the docs', (greys) => {
  const kept = decode(readFileSync(new URL(`../../docs/instruments/paper-${greys}.png`, import.meta.url)))
  const drawn = decode(samplePaper(greys))
  expect([drawn.width, drawn.height, drawn.depth]).toEqual([400, 300, greys === 2 ? 1 : 2])
  expect(drawn.data.findIndex((byte, place) => byte !== kept.data[place])).toBe(-1)
})

it.each(instruments)('$kind looks in every state as its picture in the docs', (instrument) => {
  const kept = decode(readFileSync(new URL(`../../docs/instruments/${instrument.kind}.png`, import.meta.url)))
  const drawn = decode(instrumentSheet(instrument))
  expect([drawn.width, drawn.height]).toEqual([kept.width, kept.height])
  // To the last pixel: the typefaces and what draws them come with the program.
  expect(drawn.data.findIndex((byte, place) => byte !== kept.data[place])).toBe(-1)
})
