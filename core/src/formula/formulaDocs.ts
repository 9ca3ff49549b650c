import { unitSymbol } from '../units/index.ts'
import { functions } from './language.ts'
import { longestFormula } from './longestFormula.ts'

const beginning = `# Formulas

A conversion makes the unit of a signal of what a device sends. It is one formula over

- \`x\`: what was sent in the field of the signal;
- \`field("/humidity")\`: another number of the same message, by its JSON Pointer; of like parts \`{part}\` in it means the same part;
- constants of the device, by their names: \`series\`, \`height\`. They are stated with the kit, and a device may have its own;
- numbers (\`0.5\`, \`1e3\`) and \`pi\`.

Signs, from what binds most to what binds least: \`^\`, then \`* / %\`, \`+ -\`, \`< > <= >=\`, \`== !=\`, \`&&\`, \`||\`, and
\`when ? then : otherwise\`. What is true is 1, what is not is 0. \`-\` and \`!\` stand before one.

A formula has at most ${longestFormula} characters. It reaches nothing else of the program, takes a time that its length
bounds, and what it cannot make a number of is refused in words that say which part it was. What was sent is kept beside what
was made of it for as long as the reading.

A **derived** signal has the same language over the signals it follows from, by the names they are given there, and constants; there is
no \`x\` and no \`field\`. \`temperature - dew_point(temperature, humidity)\` is a formula of one. [describe.md](describe.md#derived-signals)
tells what can be taken of a signal: its value, its mean of an hour, how fast it changes.

This page is made from the functions themselves: \`npm run docs\`.
`

/** The page that tells the language of formulas, made from what it consists of. */
export function formulaDocs(): string {
  const told = [...functions.values()].map(({ name, says, takes, repeats, gives, source, example }) => {
    const rows = takes.map(
      ({ name: parameter, unit, from, to }) =>
        `| \`${parameter}\` | ${unit === '' ? '' : unitSymbol(unit)} | ${bounds(from, to)} |`,
    )
    return [
      `## ${name}(${takes.map((parameter) => parameter.name).join(', ')}${repeats ? ', …' : ''})`,
      says,
      ['| takes | in | within |', '|---|---|---|', ...rows].join('\n'),
      gives === '' ? '' : `Gives ${unitSymbol(gives)}.`,
      `For example \`${example}\`.`,
      `Source: ${source}`,
    ]
      .filter((part) => part !== '')
      .join('\n\n')
  })
  return `${[beginning.trimEnd(), ...told].join('\n\n')}\n`
}

const bounds = (from: number | undefined, to: number | undefined): string =>
  [...(from === undefined ? [] : [`from ${from}`]), ...(to === undefined ? [] : [`to ${to}`])].join(' ')
