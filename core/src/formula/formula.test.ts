import fc from 'fast-check'
import { compileFormula, type Formula } from './compileFormula.ts'
import { functions, operators } from './language.ts'
import { longestFormula } from './longestFormula.ts'

const scope = (x: number, fields: Record<string, number> = {}, constants: Record<string, number> = {}) => ({
  x,
  field: (pointer: string) => fields[pointer],
  constant: (name: string) => constants[name],
})
const understood = (text: string): Formula => {
  const formula = compileFormula(text)
  if ('problem' in formula) throw new Error(`${formula.problem} at ${formula.at}`)
  return formula
}
const outcome = (text: string, x = 0) => understood(text).evaluate(scope(x))

it.each([
  ['x * 0.1 - 40', 650, 25],
  ['2 + 3 * 4', 0, 14],
  ['(2 + 3) * 4', 0, 20],
  ['2 ^ 3 ^ 2', 0, 512],
  ['-2 ^ 2', 0, 4],
  ['10 - 4 - 3', 0, 3],
  ['x % 360', 725, 5],
  ['x > 10 ? 1 : 0', 11, 1],
  ['x > 10 && x < 20', 25, 0],
  ['!(x == 3) || x != 3', 3, 0],
  ['x <= 3', 3, 1],
  ['1e3 + .5', 0, 1000.5],
  ['min(3, x, 7)', 2, 2],
  ['between(x, 0, 100)', 130, 100],
  ['round(x, 1)', 2.26, 2.3],
  ['abs(-x) + sqrt(16) + floor(1.9) + ceil(0.1)', 2, 8],
  ['ln(exp(2)) + log10(1000)', 0, 5],
  ['cos(60) + sin(30)', 0, 1],
  ['atan2(1, 1)', 0, 45],
  ['pi * x ^ 2', 2, 4 * Math.PI],
  ['table(x, 0, 0, 10, 100)', 5, 50],
])('%s with x = %d makes %d', (text, x, value) => {
  expect(outcome(text, x)).toEqual({ value: expect.closeTo(value, 12) })
})

it('takes other fields of the message and constants of the device', () => {
  const formula = understood('x * series + field("/air/t")')
  expect(formula).toMatchObject({ fields: ['/air/t'], constants: ['series'] })
  expect(formula.evaluate(scope(2, { '/air/t': 1 }, { series: 10 }))).toEqual({ value: 21 })
  expect(formula.evaluate(scope(2, {}, { series: 10 }))).toEqual({
    problem: 'its message has no number at /air/t',
  })
  expect(formula.evaluate(scope(2, { '/air/t': 1 }))).toEqual({
    problem: 'its constant series is not stated for this device',
  })
})

it.each([
  ['platinum(x, 100)', 5, /platinum makes no number of 5, 100/],
  ['current_loop(x, 0, 10)', 0, /current_loop takes current from 3.6 to 21, not 0/],
  ['1 / x', 0, /makes no number of 0/],
  ['ln(x)', -1, /ln makes no number of -1/],
])('says why %s makes no number of %d', (text, x, says) => {
  expect(outcome(text, x)).toEqual({ problem: expect.stringMatching(says) })
})

it.each([
  ['', 0, /missing/],
  ['x *', 3, /missing at the end/],
  ['(x + 1', 6, /bracket is not closed/],
  ['x + 0,5', 5, /with a point/],
  ['y = x * 2', 2, /"=" is not needed/],
  ['2 x', 2, /side by side/],
  [
    '1 + thermister_beta(x, 1, 2)',
    4,
    /no function "thermister_beta"; thermistor_beta\(ohms, at25, beta\) perhaps/,
  ],
  ['1 + platinum(x)', 4, /platinum takes 2: platinum\(ohms, at0\)/],
  ['x + table(x, 0, 0, 1)', 4, /takes 5 or more/],
  ['x + dew_point', 4, /is a function: write dew_point\(air, humidity\)/],
  ['x + "a"', 4, /may only name a field/],
  ['1 + field(x)', 4, /name of another field/],
  ['x.constructor', 0, /numbers, signs and functions only/],
  ['x + [1]', 4, /numbers, signs and functions only/],
  ['x[0]', 0, /numbers, signs and functions only/],
  ['x.y(1)', 0, /no function/],
  ['x; x', 3, /side by side/],
  ['x'.repeat(longestFormula + 1), longestFormula, /at most 500/],
  [`x${'+1'.repeat(150)}`, 301, /at most 200 parts/],
])('points in "%s" at character %d', (text, at, says) => {
  expect(compileFormula(text)).toEqual({ problem: expect.stringMatching(says), at })
})

it('reaches nothing of the program', () => {
  for (const name of ['constructor', '__proto__', 'toString', 'globalThis', 'process', 'eval'])
    for (const text of [`${name}(1)`, `x.${name}`, `field("${name}")`])
      expect(compileFormula(text)).toHaveProperty('problem')
  // As a name it is a constant of the device like any other, and is asked for as one.
  expect(understood('constructor + 1').evaluate(scope(1))).toHaveProperty('problem')
})

it('never throws and always ends, whatever it is given', () => {
  const bit = fc.constantFrom(
    ...functions.keys(),
    ...Object.keys(operators),
    ...[
      'x',
      '(',
      ')',
      ',',
      '?',
      ':',
      ' ',
      '1',
      '0.5',
      '1e308',
      '"/a"',
      'field',
      '.',
      '[',
      ']',
      'k',
      '-',
      '!',
    ],
  )
  const text = fc.oneof(
    fc.string({ maxLength: 520 }),
    fc.array(bit, { maxLength: 60 }).map((bits) => bits.join('')),
  )
  fc.assert(
    fc.property(text, fc.double(), (formula, x) => {
      const made = compileFormula(formula)
      if ('problem' in made) {
        expect(made.at).toBeGreaterThanOrEqual(0)
        expect(made.at).toBeLessThanOrEqual(Math.max(formula.length, longestFormula))
        return
      }
      const result = made.evaluate(scope(x, { '/a': 1 }, { k: 2 }))
      expect('value' in result ? Number.isFinite(result.value) : result.problem).toBeTruthy()
    }),
    { numRuns: 1000 },
  )
})

it('binds as arithmetic does, beside a slow reading of the same signs', () => {
  const number = fc.integer({ min: 1, max: 9 }).map(String)
  const sum = fc.array(fc.tuple(fc.constantFrom('+', '-', '*', '/'), number), { maxLength: 8 })
  fc.assert(
    fc.property(number, sum, (first, rest) => {
      const text = first + rest.map(([sign, value]) => ` ${sign} ${value}`).join('')
      expect(outcome(text)).toEqual({ value: expect.closeTo(slowly(first, rest), 9) })
    }),
  )
})

/** Products first, then sums, from left to right. */
function slowly(first: string, rest: readonly (readonly [string, string])[]): number {
  const terms = [Number(first)]
  for (const [sign, text] of rest) {
    const value = Number(text)
    const last = terms.pop() ?? Number.NaN
    if (sign === '*') terms.push(last * value)
    else if (sign === '/') terms.push(last / value)
    else terms.push(last, sign === '+' ? value : -value)
  }
  return terms.reduce((sum, term) => sum + term, 0)
}

it('says in each example how its function is called', () => {
  for (const { example } of functions.values()) expect(understood(example)).toHaveProperty('text', example)
})
