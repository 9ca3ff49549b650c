import type { Signal } from '@jaunty-sparrow/contract'
import { alarmsProblem } from '@jaunty-sparrow/core/alarm'
import { type Alarm, usualSettings } from '@jaunty-sparrow/core/signal'
import { choiceOf, choicesFor, keyFor, newAlarm, noLimits, withOccasion } from './newAlarm.ts'

const signal = (more: Partial<Signal>): Signal =>
  ({ ...usualSettings, kind: 'number', choices: [], alarms: [], ...more }) as unknown as Signal
const number = signal({ limits: { ...noLimits, low: 4, high: 8 } })
const stated = (key: string, occasion: Alarm['occasion']): Alarm => ({
  ...newAlarm(number, 5).alarm,
  key,
  occasion,
})

it('is about a limit that is stated and has no alarm yet, the upper one first', () => {
  expect(choiceOf(newAlarm(number, 5).alarm.occasion)).toBe('high')
  const high = stated('high', { by: 'limit', limit: 'high' })
  expect(choiceOf(newAlarm(signal({ ...number, alarms: [high] }), 5).alarm.occasion)).toBe('low')
})

it.each([
  ['number', signal({})],
  ['switch', signal({ kind: 'switch' })],
  [
    'choice',
    signal({
      kind: 'choice',
      choices: [
        { code: 3, name: 'on' },
        { code: 4, name: 'off' },
      ],
    }),
  ],
])('proposes nothing that contradicts itself, for each thing a %s can be about', (_, of) => {
  for (const choice of choicesFor(of)) {
    // What a formula is over has to be picked first.
    if (choice === 'formula') continue
    const { alarm, limits } = withOccasion(newAlarm(of, 21.37), choice, of, 21.37)
    expect([choice, alarmsProblem([{ ...alarm, key: 'a' }], { ...of, limits })]).toEqual([choice, undefined])
    expect(choiceOf(alarm.occasion)).toBe(choice)
  }
})

it('keeps limits in their order when one is added', () => {
  for (const limit of ['lowLow', 'low', 'high', 'highHigh'] as const) {
    const { limits } = withOccasion(newAlarm(number, 5), limit, number, 5)
    const given = [limits?.lowLow, limits?.low, limits?.high, limits?.highHigh].filter(
      (each) => typeof each === 'number',
    )
    expect([...given].sort((a, b) => a - b)).toEqual(given)
  }
})

it('is known by what it is about, and by a number where that is taken', () => {
  const limit = { by: 'limit', limit: 'highHigh' } as const
  expect(keyFor(limit, [])).toBe('high-high')
  expect(keyFor(limit, [stated('high-high', limit)])).toBe('high-high-2')
  expect(keyFor({ by: 'fault', atLeast: 0 }, [stated('fault', limit), stated('fault-2', limit)])).toBe(
    'fault-3',
  )
})
