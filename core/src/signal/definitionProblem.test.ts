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
