import type { FieldRecord } from '../message/field.ts'
import { type DeviceSignal, usualSettings } from '../signal/signal.ts'
import { SignalMap } from '../signal/signalMap.ts'
import { explain } from './explain.ts'
import { interpret } from './interpret.ts'

const now = Date.UTC(2026, 10, 1, 12)
const level: DeviceSignal = {
  signal: 1,
  part: '',
  own: [],
  definition: {
    ...usualSettings,
    id: 1,
    name: 'Level',
    field: '/level',
    kind: 'number',
    origin: 'measured',
    state: 'accepted',
    choices: [],
    unit: 'cm',
    range: { low: 0, high: null },
  },
}
const signals = new SignalMap([level])
const records: readonly FieldRecord[] = [
  {
    fields: [
      { pointer: '/level', value: 3 },
      { pointer: '/level2', value: 'x' },
    ],
  },
  { time: now - 1000, fields: [{ pointer: '/level', value: -1 }] },
  { time: 'soon', fields: [{ pointer: '/level', value: 4 }] },
  { fields: [{ pointer: '/level', value: { notANumber: 'nan' } }] },
]

describe('explain', () => {
  it('tells of every field what it becomes, or why nothing', () => {
    expect(explain(records, () => signals, now)).toMatchObject([
      {
        record: 0,
        pointer: '/level',
        raw: '3',
        target: { definition: { name: 'Level' } },
        outcome: { at: now, value: 3, quality: 0 },
      },
      {
        record: 0,
        pointer: '/level2',
        raw: '"x"',
        target: undefined,
        outcome: { problem: expect.stringContaining('"level2"') },
      },
      { record: 1, raw: '-1', outcome: { at: now - 1000, value: -1, quality: 1 } },
      { record: 2, outcome: { problem: expect.stringContaining('"soon"') } },
      { record: 3, raw: 'nan', outcome: { problem: expect.stringContaining('not a number') } },
    ])
  })

  it('comes to the same as the straight way does', () => {
    const { readings, refused } = interpret(records, () => signals, now)
    const told = explain(records, () => signals, now).flatMap(({ outcome }) =>
      outcome === 'ignored' ? [] : [outcome],
    )
    expect(told.flatMap((outcome) => ('problem' in outcome ? [] : [outcome.value]))).toEqual(
      readings.map(({ value }) => value),
    )
    expect(told.flatMap((outcome) => ('problem' in outcome ? [outcome.problem] : []))).toEqual(
      refused.map(({ reason }) => reason),
    )
  })
})
