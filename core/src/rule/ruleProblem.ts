import { compileFormula, constantPattern, functions, namedNumbers } from '../formula/index.ts'
import { longestRuleTime, mostRuleInputs, type Rule } from './rule.ts'

const isName = new RegExp(constantPattern)

/** Says what in a rule contradicts itself, in words; undefined when nothing does. */
export function ruleProblem(rule: Rule): string | undefined {
  const { inputs, when, until, clock } = rule
  if (when === null && clock === null) return 'When it acts is missing: a condition, or a time.'
  if (inputs.length > mostRuleInputs) return `A rule looks at ${mostRuleInputs} signals at most.`
  const names = inputs.map(({ name }) => name)
  for (const [place, name] of names.entries()) {
    if (!isName.test(name) || name === 'x' || functions.has(name) || namedNumbers.has(name))
      return `"${name}" cannot be the name of a signal in a formula: take letters, digits and _, and no word of the language.`
    if (names.indexOf(name) < place) return `Two signals are called "${name}" in the formulas.`
  }
  const used = new Set<string>()
  for (const [says, condition] of [
    ['When', when],
    ['Until', until],
  ] as const) {
    if (!condition) continue
    const read = compileFormula(condition.formula)
    if ('problem' in read) return `${says}, at character ${read.at + 1}: ${read.problem}`
    if (read.takesSent) return `${says}: in a rule nothing was sent; name a signal instead of x.`
    if (read.fields.length > 0) return `${says}: a rule looks at signals, not at fields of a message.`
    for (const name of read.constants) {
      if (!names.includes(name)) return `${says}: no signal is called "${name}".`
      used.add(name)
    }
  }
  const unused = names.find((name) => !used.has(name))
  if (unused !== undefined) return `"${unused}" is in no condition.`
  if (clock?.days.length === 0) return 'Pick a day of the week at least.'
  const times = [rule.leastOn, rule.leastOff, when?.atLeast ?? 0, until?.atLeast ?? 0]
  if (times.some((each) => !(each >= 0 && each <= longestRuleTime)))
    return 'Each of its times is at most a day.'
  if (rule.whenUnknown === 'rest' && rule.otherwise === null && inputs.length > 0)
    return 'What it asks for when it does not act is missing: that is its safe state.'
  return undefined
}
