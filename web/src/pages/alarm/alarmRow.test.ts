import type { Signal } from '@jaunty-sparrow/contract'
import { usualSettings } from '@jaunty-sparrow/core/signal'
import { alarmRow, returnsAt } from './alarmRow.ts'
import { newAlarm, noLimits, withOccasion } from './newAlarm.ts'

const signal = {
  ...usualSettings,
  kind: 'number',
  choices: [],
  name: 'Milk',
  partName: '',
  unit: 'Cel',
  limits: { ...noLimits, low: 4, high: 8, deadband: 0.5 },
} as unknown as Signal

it.each([
  ['high', 8, 7.5, 'above'],
  ['low', 4, 4.5, 'below'],
] as const)('holds what was said against the %s limit, and where it is back', (limit, at, back, side) => {
  const draft = withOccasion(newAlarm(signal, 5), limit, signal, 5)
  expect(returnsAt(draft)).toBe(back)
  const row = alarmRow(draft, signal, undefined)
  expect(row.name).toBe('Milk, °C')
  expect(row.bounds).toEqual([
    { id: 'limit', value: at, side, isLimit: true },
    { id: 'back', value: back, side: side === 'above' ? 'below' : 'above' },
  ])
  // Both lie within the picture, with some room to drag them.
  for (const { value } of row.bounds) {
    expect(value).toBeGreaterThan(row.low)
    expect(value).toBeLessThan(row.high)
  }
})

it('holds nothing against a bound where there is none', () => {
  const draft = withOccasion(newAlarm(signal, 5), 'fault', signal, 5)
  expect(returnsAt(draft)).toBeNull()
  expect(alarmRow(draft, signal, undefined).bounds).toEqual([])
})
