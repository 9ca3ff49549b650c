import { tellingWords } from './tellingWords.ts'
import { usualTelling } from './usualTelling.ts'

it.each([
  [{}, 'what is urgent or important, at once'],
  [{ priorities: ['urgent', 'important', 'minor'] }, 'every alarm, at once'],
  [{ priorities: ['minor'], wait: 900 }, 'what is minor, when nobody has seen it for 15 min'],
  [
    { days: [1, 2, 3, 4, 5], from: 420, to: 1200 },
    'what is urgent or important, at once on weekdays from 07:00 to 20:00',
  ],
  [{ days: [6, 7] }, 'what is urgent or important, at once on weekends'],
  [{ days: [3, 6] }, 'what is urgent or important, at once on Wed, Sat'],
] as const)('tells %j as a sentence goes on', (more, words) => {
  expect(tellingWords({ ...usualTelling, ...more })).toBe(words)
})
