import type { Instrument, ShownSignal } from '../instrument/index.ts'
import { instrumentOf } from '../registry/index.ts'
import { sampleOf } from '../samples/index.ts'
import { mixed } from './mixed.ts'

const [sample] = sampleOf(instrumentOf('value') as Instrument, 'at rest', 200).signals
const channel = (value: number | undefined, id: number): ShownSignal => ({
  ...(sample as ShownSignal),
  id,
  shown: { low: 0, high: 100 },
  latest: value === undefined ? null : { at: 0, value, quality: 0 },
})
const light = (...values: (number | undefined)[]) =>
  mixed(values.map(channel), ({ latest }) => (latest ? Number(latest.value) : undefined))

it.each([
  // Linear light and the byte of sRGB that shows it, as tables of IEC 61966-2-1 have them.
  [[0, 0, 0], 'rgb(0 0 0)'],
  [[100, 100, 100], 'rgb(255 255 255)'],
  [[21.404, 21.404, 21.404], 'rgb(127 127 127)'],
  [[100, 50, 0], 'rgb(255 188 0)'],
  [[0.3, 0, 250], 'rgb(10 0 255)'],
] as const)('%j %% of red, green and blue are %s', (values, mix) => expect(light(...values)).toBe(mix))

it('is no colour while a channel says nothing, or there are not three', () => {
  expect(light(1, 2, undefined)).toBeUndefined()
  expect(light(1, 2)).toBeUndefined()
})
