import { dateFormat } from './dateFormat.ts'
import { setLanguage } from './language.ts'
import { valueText } from './valueText.ts'

afterEach(() => setLanguage(null))

const number = { kind: 'number', choices: [] } as const
const choice = { kind: 'choice', choices: [{ code: 1, name: 'Step 1.5' }] } as const

it.each([
  ['en-GB', '12.5'],
  ['de-DE', '12,5'],
  ['de-CH', '12.5'],
  ['fr-FR', '12,5'],
])('writes a number in %s as %s', (language, text) => {
  setLanguage(language)
  expect(valueText(12.5, number)).toBe(text)
})

it('sets thousands apart the same everywhere, and leaves names alone', () => {
  setLanguage('de-DE')
  expect(valueText(1234.5, number)).toBe('1\u202f234,5')
  expect(valueText(1, choice)).toBe('Step 1.5')
})

it('writes dates in the language that holds when they are written', () => {
  const day = dateFormat({ dateStyle: 'long', timeZone: 'UTC' })
  setLanguage('en-GB')
  expect(day.format(Date.UTC(2026, 4, 31))).toBe('31 May 2026')
  setLanguage('de-DE')
  expect(day.format(Date.UTC(2026, 4, 31))).toBe('31. Mai 2026')
})
