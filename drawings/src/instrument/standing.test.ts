import { Quality } from '@jaunty-sparrow/core/signal'
import { instrumentOf } from '../registry/index.ts'
import { sampleOf } from '../samples/index.ts'
import type { Instrument } from './instrument.ts'
import type { ShownSignal } from './shown.ts'
import { standingOf } from './standing.ts'

const { signals, now, writing } = sampleOf(instrumentOf('value') as Instrument, 'at rest', 200)
const quiet = signals[0] as ShownSignal
const latest = (more: Partial<NonNullable<ShownSignal['latest']>>) => ({
  latest: { at: now, value: 12, quality: 0, ...more },
})
const of = (more: Partial<ShownSignal>) => standingOf({ ...quiet, ...more }, now, writing)

it.each<[string, Partial<ShownSignal>, string, string[]]>([
  ['at rest', {}, 'rest', []],
  ['nothing yet', { latest: null, presence: 'never' }, 'faint', ['nothing yet']],
  ['late', { ...latest({ at: now - 180_000 }), presence: 'late' }, 'late', ['late, said 3 min ago']],
  ['silent', { ...latest({ at: now - 7_200_000 }), presence: 'silent' }, 'trouble', ['silent, said 2 h ago']],
  ['asleep', { presence: 'asleep' }, 'rest', ['asleep, said 4 s ago']],
  ['too high', latest({ value: 15.2 }), 'trouble', ['▲ too high · limit 14.0']],
  ['too low', latest({ value: 9 }), 'trouble', ['▼ too low · limit 10.0']],
  ['on its limit', latest({ value: 14 }), 'rest', []],
  ['beyond range', latest({ quality: Quality.beyondRange }), 'late', ['beyond range']],
  ['doubtful', { doubt: 'its cable is loose' }, 'late', ['doubtful: its cable is loose']],
  ['retired', { presence: 'retired' }, 'faint', ['retired']],
])('%s', (_, more, tone, words) => {
  expect(of(more)).toEqual({ tone, words })
})

it('says of a fault nothing but that: its value means nothing', () => {
  const fault = { ...latest({ value: 85, quality: Quality.atFault }), fault: 'not connected', doubt: 'loose' }
  expect(of(fault)).toEqual({ tone: 'trouble', words: ['at fault'] })
})

it('tells the most pressing first, and all there is', () => {
  const all = {
    ...latest({ value: 15.2, at: now - 180_000, quality: Quality.tooFast }),
    presence: 'late' as const,
    doubt: 'loose',
  }
  expect(of(all)).toEqual({
    tone: 'trouble',
    words: ['late, said 3 min ago', '▲ too high · limit 14.0', 'changed too fast', 'doubtful: loose'],
  })
})
