import fc from 'fast-check'
import {
  bandsText,
  type CellText,
  cadenceText,
  choicesText,
  faultsText,
  fieldText,
  lastingText,
  limitsText,
  rangeText,
  storingText,
  unitText,
} from './cellTexts.ts'

const n = fc.integer({ min: -10_000, max: 10_000 }).map((value) => value / 10)
const end = fc.option(n)
const lasting = fc.integer({ min: 1, max: 600_000 })
const name = fc.stringMatching(/^[a-z]{1,8}( [a-z]{1,8})?$/).filter((text) => !/\bto\b/.test(text))
const range = fc.record({ low: end, high: end })

const all: [string, CellText<never>, fc.Arbitrary<unknown>][] = [
  [
    'field',
    fieldText as never,
    fc.array(fc.stringMatching(/^[a-z]{1,5}$/), { minLength: 1, maxLength: 3 }).map((s) => `/${s.join('/')}`),
  ],
  ['range', rangeText as never, range],
  [
    'bands',
    bandsText as never,
    fc.array(
      fc.record({ name, from: end, to: end }).filter(({ from, to }) => from !== null || to !== null),
      { maxLength: 4 },
    ),
  ],
  [
    'limits',
    limitsText as never,
    fc.record({
      lowLow: end,
      low: end,
      high: n,
      highHigh: end,
      deadband: n.map(Math.abs),
      onDelay: fc.oneof(fc.constant(0), lasting),
      offDelay: fc.oneof(fc.constant(0), lasting),
    }),
  ],
  [
    'storing',
    storingText as never,
    fc.oneof(
      fc.constant({ by: 'every' }),
      fc.record({ by: fc.constant('change'), deadband: n.map(Math.abs), heartbeat: lasting }),
      fc.record({
        by: fc.constant('interval'),
        of: fc.constantFrom('last', 'mean', 'range'),
        seconds: lasting,
      }),
    ),
  ],
  [
    'cadence',
    cadenceText as never,
    fc.oneof(
      fc.constant(null),
      fc.constant({ by: 'event' }),
      fc.record({ by: fc.constantFrom('always', 'sleep'), seconds: lasting }),
    ),
  ],
  ['states', choicesText as never, fc.array(fc.record({ code: fc.integer(), name }), { maxLength: 4 })],
  ['faults', faultsText as never, fc.array(fc.record({ value: n, name }), { maxLength: 4 })],
]

it.each(all)('reads of %s what it wrote', (_, text, values) => {
  fc.assert(
    fc.property(values, (value) => {
      expect(text.read(text.write(value as never))).toEqual(value)
    }),
  )
})

it.each([
  ['°C', 'Cel'],
  ['µg/m³', 'ug/m3'],
  ['μg/m³', 'ug/m3'],
  ['[degF]', '[degF]'],
  ['kWh', 'kW.h'],
  ['mg/dL', 'mg/dL'],
  ['', null],
])('reads the unit "%s" as %s', (text, unit) => {
  expect(unitText.read(text)).toBe(unit)
})

it('takes numbers as a spreadsheet has them', () => {
  expect(rangeText.read('−10,5 to 40')).toEqual({ low: -10.5, high: 40 })
  expect(lastingText.read('10min')).toBe(600)
})

it.each([
  [() => unitText.read('furlong'), /"furlong" is no unit/],
  [() => rangeText.read('4'), /-10 to 40/],
  [() => rangeText.read('a to 4'), /"a" is no number/],
  [() => limitsText.read('hi 4'), /"hi 4" is no limit/],
  [() => storingText.read('sometimes'), /mean of 60 s/],
  [() => cadenceText.read('often'), /"often" is no time/],
  [() => bandsText.read('good'), /"good" is no band/],
  [() => choicesText.read('off'), /"off" is no state/],
])('says what it does not understand', (read, says) => {
  expect(read).toThrow(says)
})
