import fc from 'fast-check'
import { compileFormula } from '../formula/index.ts'
import { contest } from './contest.ts'
import { comparisons, formulaOf, pickedTerms } from './pickedTerms.ts'
import type { Rule } from './rule.ts'
import { ruleProblem } from './ruleProblem.ts'

const humid: Rule = {
  inputs: [{ name: 'a', signal: 1 }],
  when: { formula: 'a < 85', atLeast: 120 },
  until: { formula: 'a > 90', atLeast: 0 },
  clock: null,
  value: 1,
  otherwise: 0,
  leastOn: 0,
  leastOff: 300,
  mostAnHour: 6,
  whenUnknown: 'rest',
  safeAfterAway: false,
}

describe('what is picked', () => {
  it('is a formula that is read back as it was, and holds where all of it does, or any', () => {
    const term = fc.record({
      name: fc.constantFrom('a', 'b'),
      is: fc.constantFrom(...comparisons),
      bound: fc.oneof(fc.integer({ min: -3, max: 3 }), fc.double({ noNaN: true, min: -1e300, max: 1e300 })),
    })
    const value = fc.integer({ min: -3, max: 3 })
    fc.assert(
      fc.property(
        fc.constantFrom('&&' as const, '||' as const),
        fc.array(term, { minLength: 1, maxLength: 4 }),
        value,
        value,
        (join, picked, a, b) => {
          const terms = picked.map((each) => ({ ...each, bound: each.bound === 0 ? 0 : each.bound }))
          const formula = formulaOf({ join, terms })
          expect(pickedTerms(formula)).toEqual({ join: terms.length > 1 ? join : '&&', terms })
          const holds = terms.map(({ name, is, bound }) => {
            const of = name === 'a' ? a : b
            if (is === '<') return of < bound
            if (is === '>') return of > bound
            return (of === bound) === (is === '==')
          })
          const compiled = compileFormula(formula)
          if ('problem' in compiled) throw new Error(`${formula}: ${compiled.problem}`)
          expect(
            compiled.evaluate({
              x: 0,
              field: () => undefined,
              constant: (name) => (name === 'a' ? a : b),
            }),
          ).toEqual({ value: Number(join === '&&' ? holds.every(Boolean) : holds.some(Boolean)) })
        },
      ),
    )
  })

  it.each(['a < b', 'a + 1 < 3', 'a < 3 && b > 2 || c == 1', 'a', '(a < 3)', 'a <= 3'])(
    'is not all that a formula can say: %s',
    (formula) => expect(pickedTerms(formula)).toBeUndefined(),
  )
})

describe('a rule that contradicts itself', () => {
  it('is told where', () => {
    expect(ruleProblem(humid)).toBeUndefined()
    const problem = (changes: Partial<Rule>) => ruleProblem({ ...humid, ...changes })
    expect(problem({ when: null })).toMatch(/a condition, or a time/)
    expect(problem({ when: { formula: 'a <', atLeast: 0 } })).toMatch(/^When, at character 4/)
    expect(problem({ until: { formula: 'b > 1', atLeast: 0 } })).toBe('Until: no signal is called "b".')
    expect(problem({ until: { formula: 'x > 1', atLeast: 0 } })).toMatch(/instead of x/)
    expect(problem({ inputs: [...humid.inputs, { name: 'c', signal: 2 }] })).toBe('"c" is in no condition.')
    expect(problem({ inputs: [...humid.inputs, { name: 'a', signal: 2 }] })).toMatch(/^Two signals/)
    expect(problem({ leastOn: 90_000 })).toMatch(/at most a day/)
    expect(problem({ otherwise: null })).toMatch(/safe state/)
  })
})

describe('rules that want the same signal', () => {
  const stretch = (from: number, to: number, isActing: boolean | null) => ({
    from,
    to,
    isActing,
    isUnknown: false,
  })

  it('fight where a later one asks for something else than the first that asks', () => {
    const lidOpen = {
      who: 'Lid open',
      rule: { value: 0, otherwise: null },
      stretches: [stretch(0, 10, false), stretch(10, 30, true), stretch(30, 60, false)],
    }
    const humidityLow = {
      who: 'Humidity low',
      rule: { value: 1, otherwise: 0 },
      stretches: [stretch(0, 5, null), stretch(5, 20, true), stretch(20, 25, false), stretch(25, 60, true)],
    }
    const fight = { holder: 'Lid open', held: 0, loser: 'Humidity low', wished: 1 }
    expect(contest([lidOpen, humidityLow])).toEqual([
      { ...fight, from: 10, to: 20 },
      { ...fight, from: 25, to: 30 },
    ])
    expect(contest([humidityLow, lidOpen]).map(({ from, to }) => [from, to])).toEqual([
      [10, 20],
      [25, 30],
    ])
  })
})
