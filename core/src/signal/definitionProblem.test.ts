import { usualControl } from './control.ts'
import { definitionProblem } from './definitionProblem.ts'
import { usualSettings } from './signal.ts'

const number = {
  ...usualSettings,
  name: 'Level',
  field: '/level',
  kind: 'number',
  origin: 'measured',
  choices: [],
} as const
const limits = { lowLow: null, low: 1, high: 2, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }

it('has nothing against what makes sense', () => {
  const bands = [
    { name: 'good', from: null, to: 3 },
    { name: 'poor', from: 3, to: null },
  ]
  expect(definitionProblem({ ...number, unit: 'Cel', bands, limits })).toBeUndefined()
  const choices = [
    { code: 0, name: 'idle' },
    { code: 1, name: 'busy' },
  ]
  expect(definitionProblem({ ...number, kind: 'choice', choices, field: '/p/{part}/state' })).toBeUndefined()
})

const lid = { says: 'it is open', formula: 'a > 0.5', inputs: [{ name: 'a', named: 'Lid open' }] }
const controlled = { ...number, kind: 'switch', origin: 'controlled' } as const

it('has nothing against a control that makes sense', () =>
  expect(
    definitionProblem({ ...controlled, control: { ...usualControl, unless: [lid], leastOn: 60 } }),
  ).toBeUndefined())

it.each([
  [{ step: 5 }, /Only a number goes in steps/],
  [{ unless: [{ ...lid, formula: 'a >' }] }, /"it is open" at character/],
  [{ unless: [{ ...lid, formula: 'b > 1' }] }, /which signal "b" is/],
  [{ unless: [{ ...lid, formula: 'x > 1' }] }, /neither x nor fields/],
])('refuses a control that contradicts itself: %j', (more, problem) =>
  expect(definitionProblem({ ...controlled, control: { ...usualControl, ...more } })).toMatch(problem),
)

it('refuses a control of what is measured, and a bare value of what is momentary', () => {
  expect(definitionProblem({ ...number, control: usualControl })).toMatch(/Only a controlled/)
  const restart = { ...controlled, kind: 'momentary', control: { ...usualControl, bare: true } } as const
  expect(definitionProblem(restart)).toMatch(/done twice/)
})

it.each([
  [{ kind: 'momentary' }, /has to be controlled/],
  [{ kind: 'choice' }, /at least two states/],
  [{ choices: [{ code: 1, name: 'a' }] }, /Only a choice/],
  [
    {
      kind: 'choice',
      choices: [
        { code: 1, name: 'a' },
        { code: 1, name: 'b' },
      ],
    },
    /same code/,
  ],
  [
    {
      kind: 'choice',
      choices: [
        { code: 1, name: 'a' },
        { code: 2, name: 'A' },
      ],
    },
    /same name/,
  ],
  [{ field: '/{part}/{part}' }, /one \{part\}/],
  [{ kind: 'text', unit: 'Cel' }, /Only a number has a unit/],
  [{ conversion: 'x * * 2' }, /In the conversion at character 5: /],
  [{ kind: 'switch', storing: { by: 'interval', seconds: 5, of: 'mean' } }, /Only numbers have a mean/],
  [{ range: { low: 5, high: 5 } }, /plausible range ends below/],
  [{ bands: [{ name: 'a', from: 2, to: 1 }] }, /band "a" ends below/],
  [
    {
      bands: [
        { name: 'a', from: null, to: 2 },
        { name: 'b', from: 1, to: 3 },
      ],
    },
    /"a" and "b" overlap/,
  ],
  [{ limits: { ...limits, low: 3 } }, /not in order/],
] as const)('finds what is wrong with %j', (wrong, words) => {
  expect(definitionProblem({ ...number, ...wrong })).toMatch(words)
})

describe('a derived signal', () => {
  const input = { name: 'a', of: { definition: 1 }, take: { by: 'last' }, ageLimit: 60 } as const
  const derivation = { formula: 'a + 1', inputs: [input] }
  const derived = { ...number, origin: 'derived', field: '', derivation } as const

  it('is told by its derivation alone', () => {
    expect(definitionProblem(derived)).toBeUndefined()
    expect(definitionProblem({ ...derived, derivation: null })).toMatch(/needs to be told/)
    expect(definitionProblem({ ...derived, field: '/a' })).toMatch(/no field/)
    expect(definitionProblem({ ...derived, conversion: 'x' })).toMatch(/alone/)
    expect(definitionProblem({ ...derived, kind: 'text' })).toMatch(/number or a switch/)
    expect(definitionProblem({ ...number, derivation })).toMatch(/Only a derived/)
    expect(definitionProblem({ ...number, field: '' })).toMatch(/missing/)
  })

  it.each([
    [{ inputs: [] }, /another one at least/],
    [{ inputs: [input, input] }, /Two signals are called "a"/],
    [{ inputs: [{ ...input, name: 'max' }] }, /cannot be the name/],
    [{ inputs: [{ ...input, take: { by: 'mean', over: 1e6 } as const }] }, /at most a day/],
    [{ formula: 'a + ' }, /at character 5: Something is missing/],
    [{ formula: 'a + x' }, /nothing was sent/],
    [{ formula: 'a + field("/b")' }, /not from fields/],
    [{ formula: '1' }, /"a" is not in the formula/],
  ])('refuses %j', (more, problem) => {
    expect(definitionProblem({ ...derived, derivation: { ...derivation, ...more } })).toMatch(problem)
  })
})
