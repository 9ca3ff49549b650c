import { setLanguage } from '../language/language.ts'
import { differences } from './changeWords.ts'

beforeAll(() => setLanguage('en-GB'))
afterAll(() => setLanguage(null))

it('tells what was changed in words, without numbers of things and without what says nothing', () => {
  const after = {
    name: 'Cave',
    signalId: 5,
    expiresAt: Date.UTC(2026, 4, 31, 12),
    frameAncestors: [],
    part: '',
    value: null,
  }
  expect(differences({ before: {}, after })).toEqual([
    { what: 'name', before: undefined, after: 'Cave' },
    { what: 'ends', before: undefined, after: expect.stringMatching(/^31 May 2026/) },
  ])
})

it('sets before and after side by side, however deep they are', () => {
  const before = { unit: 'Cel', limits: null, range: { low: 0, high: null } }
  const after = { unit: '[degF]', limits: { high: 9, deadband: 0.5 }, range: { low: 0, high: null } }
  expect(differences({ before, after })).toEqual([
    { what: 'unit', before: '°C', after: '°F' },
    { what: 'limits', before: undefined, after: 'high 9, deadband 0.5' },
  ])
})

it('has nothing to tell where nothing was written', () => {
  expect(differences(null)).toEqual([])
})
