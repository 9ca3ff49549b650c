import type { Instrument, ShownSignal } from '../instrument/index.ts'
import { instrumentOf } from '../registry/index.ts'
import { sampleOf } from '../samples/index.ts'
import { signOf } from './signOf.ts'

const { signals, writing } = sampleOf(instrumentOf('value') as Instrument, 'at rest', 200)
const quiet = signals[0] as ShownSignal
const settings = { by: 'limits', above: 12.5, beyond: 'warm', within: 'cool' } as const
const at = (value: number, more: Partial<ShownSignal> = {}): ShownSignal => ({
  ...quiet,
  latest: { at: 0, value, quality: 0 },
  ...more,
})

it.each([
  ['within its limits', at(12), {}, { shape: 'fine', word: 'within' }],
  ['above', at(15), {}, { shape: 'high', word: 'too high' }],
  ['below', at(8), {}, { shape: 'low', word: 'too low' }],
  ['by band', at(11), { by: 'bands' }, { shape: 'fine', word: 'cool' }],
  ['at the end of a band', at(12), { by: 'bands' }, { shape: 'fine', word: 'warm' }],
  ['up to a bound', at(12.5), { by: 'condition' }, { shape: 'off', word: 'cool' }],
  ['above a bound', at(12.6), { by: 'condition' }, { shape: 'on', word: 'warm' }],
  ['a switch', at(1, { kind: 'switch' }), { by: 'state' }, { shape: 'on', word: 'on' }],
  ['a switch that is off', at(0, { kind: 'switch' }), { by: 'state' }, { shape: 'off', word: 'off' }],
  ['nothing', { ...quiet, latest: null }, {}, { shape: 'unknown', word: 'nothing yet' }],
  ['a fault', at(85, { fault: 'not connected' }), {}, { shape: 'fault', word: 'not connected' }],
] as const)('tells %s by shape and word', (_, signal, more, sign) => {
  expect(signOf(signal, { ...settings, ...more }, { writing })).toEqual(sign)
})
