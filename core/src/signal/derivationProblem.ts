import { compileFormula, constantPattern, functions, namedNumbers } from '../formula/index.ts'
import { type Derivation, farthestReach, mostInputs, type Take } from './derivation.ts'

const isName = new RegExp(constantPattern)

/** Says what in a derivation contradicts itself, in words; undefined when nothing does. */
export function derivationProblem({ formula, inputs }: Derivation): string | undefined {
  if (inputs.length === 0) return 'A derived signal follows from another one at least.'
  if (inputs.length > mostInputs) return `A derived signal follows from ${mostInputs} others at most.`
  const names = inputs.map(({ name }) => name)
  for (const [place, name] of names.entries()) {
    if (!isName.test(name) || name === 'x' || functions.has(name) || namedNumbers.has(name))
      return `"${name}" cannot be the name of a signal in a formula: take letters, digits and _, and no word of the language.`
    if (names.indexOf(name) < place) return `Two signals are called "${name}" in the formula.`
  }
  for (const { name, take, ageLimit } of inputs) {
    if (!(ageLimit > 0)) return `How old "${name}" may be is missing.`
    const problem = takeProblem(take)
    if (problem) return `Of "${name}": ${problem}`
  }
  const read = compileFormula(formula)
  if ('problem' in read) return `In the formula at character ${read.at + 1}: ${read.problem}`
  if (read.takesSent)
    return 'In a derived signal nothing was sent: name the signals it follows from instead of x.'
  if (read.fields.length > 0) return 'A derived signal follows from signals, not from fields of a message.'
  const unused = names.find((name) => !read.constants.includes(name))
  return unused === undefined ? undefined : `"${unused}" is not in the formula.`
}

function takeProblem(take: Take): string | undefined {
  if ('over' in take && take.over !== 'day' && !(take.over > 0 && take.over <= farthestReach))
    return 'a span is longer than nothing, and at most a day.'
  if ('wrapsAt' in take && take.wrapsAt !== null && !(take.wrapsAt > 0))
    return 'a counter begins again at a number above 0.'
  return undefined
}
