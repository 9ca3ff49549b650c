import jsep from 'jsep'
import type { Parameter, QuantityFunction } from '../physics/index.ts'
import { functions, namedNumbers, operators, signs } from './language.ts'
import { longestFormula } from './longestFormula.ts'

jsep.removeAllBinaryOps()
for (const [sign, { binds }] of Object.entries(operators)) jsep.addBinaryOp(sign, binds, sign === '^')
jsep.removeAllUnaryOps()
for (const sign of Object.keys(signs)) jsep.addUnaryOp(sign)
jsep.removeAllLiterals()

/** What the parser has inside, which its types leave out. */
interface Inside {
  readonly index: number
  gobbleSpaces(): void
  gobbleToken(): jsep.Expression | false
  parse(): jsep.Expression
}

const { Jsep: Parser } = jsep as unknown as { readonly Jsep: new (text: string) => Inside }

const places = new WeakMap<jsep.Expression, number>()
const placeOf = (node: jsep.Expression): number => {
  const first = (node as jsep.BinaryExpression).left ?? (node as jsep.ConditionalExpression).test
  return places.get(node) ?? (first ? placeOf(first) : 0)
}

/** Remembers where each part begins, which the parser itself does not tell. */
class PlacingParser extends Parser {
  override gobbleToken(): jsep.Expression | false {
    this.gobbleSpaces()
    const at = this.index
    const node = super.gobbleToken()
    if (node) places.set(node, at)
    return node
  }
}

/** Such of more parts are refused: a formula is worked out for every reading. */
const mostParts = 200

/** What a formula is worked out from. */
export interface Scope {
  /** What was sent. */
  readonly x: number
  /** Another field of the same message; undefined where it holds no such number. */
  readonly field: (pointer: string) => number | undefined
  /** A constant of the device; undefined where nobody has stated it. */
  readonly constant: (name: string) => number | undefined
}

/** What a formula makes: a number, or why it is none. */
export type Outcome = { readonly value: number } | { readonly problem: string }

/** A formula that was understood. */
export interface Formula {
  readonly text: string
  /** The other fields of the message it needs, as JSON Pointers. */
  readonly fields: readonly string[]
  /** Whether it takes what was sent, x. */
  readonly takesSent: boolean
  /** The constants of the device it needs. */
  readonly constants: readonly string[]
  /** Works it out. It never throws, and takes time that its length bounds. */
  readonly evaluate: (scope: Scope) => Outcome
}

/** A formula that cannot be understood: where, and what to do. */
export interface FormulaProblem {
  readonly problem: string
  /** The character it is about, from 0. */
  readonly at: number
}

/** What went wrong while one was worked out; the first is told. */
interface Run extends Scope {
  why: string | undefined
}
type Step = (run: Run) => number

/** Reads a formula. Only what is listed in the language can be in it; nothing of the program can be reached. */
export function compileFormula(text: string): Formula | FormulaProblem {
  if (text.length > longestFormula)
    return { problem: `A formula has at most ${longestFormula} characters.`, at: longestFormula }
  try {
    const compiler = new Compiler(text)
    const step = compiler.compile(parsed(text))
    return {
      text,
      takesSent: compiler.takesSent,
      fields: [...compiler.fields],
      constants: [...compiler.constants],
      evaluate: (scope) => {
        const run: Run = { x: scope.x, field: scope.field, constant: scope.constant, why: undefined }
        const value = step(run)
        if (run.why !== undefined) return { problem: run.why }
        return Number.isFinite(value) ? { value } : { problem: `it makes no number of ${scope.x}` }
      },
    }
  } catch (error) {
    if (error instanceof Misunderstood) return { problem: error.message, at: error.at }
    throw error
  }
}

class Misunderstood extends Error {
  readonly at: number

  constructor(problem: string, at: number) {
    super(problem)
    this.at = at
  }
}

function parsed(text: string): jsep.Expression {
  if (text.trim() === '') throw new Misunderstood('A formula is missing; x is what was sent.', 0)
  try {
    return new PlacingParser(text).parse()
  } catch (error) {
    const { index, description } = error as { index?: number; description?: string }
    if (index === undefined) throw error
    const at = Math.min(index, text.length)
    throw new Misunderstood(wordsOf(description ?? '', text, at), at)
  }
}

function wordsOf(description: string, text: string, at: number): string {
  const found = text[at]
  if (/Unclosed|Expected \)/.test(description)) return 'A bracket is not closed.'
  if (found === undefined) return 'Something is missing at the end.'
  if (found === '=') return '"=" is not needed: the formula is what stands on its right; equal is written ==.'
  return `"${found}" was not understood here.`
}

class Compiler {
  readonly fields = new Set<string>()
  readonly constants = new Set<string>()
  takesSent = false
  readonly #text: string
  #parts = 0

  constructor(text: string) {
    this.#text = text
  }

  compile(node: jsep.Expression): Step {
    if (++this.#parts > mostParts)
      throw new Misunderstood(`A formula has at most ${mostParts} parts.`, this.#text.length)
    switch (node.type) {
      case 'Literal':
        return this.#literal(node as jsep.Literal)
      case 'Identifier':
        return this.#named(node as jsep.Identifier)
      case 'UnaryExpression':
        return this.#signed(node as jsep.UnaryExpression)
      case 'BinaryExpression':
        return this.#joined(node as jsep.BinaryExpression)
      case 'ConditionalExpression':
        return this.#chosen(node as jsep.ConditionalExpression)
      case 'CallExpression':
        return this.#called(node as jsep.CallExpression)
      case 'Compound':
        throw this.#sideBySide(placeOf((node as jsep.Compound).body[1] ?? node))
      default:
        throw new Misunderstood('A formula has numbers, signs and functions only.', placeOf(node))
    }
  }

  #sideBySide(at: number): Misunderstood {
    return /\d,$/.test(this.#text.slice(0, at))
      ? new Misunderstood('Decimals are written with a point: 0.5.', at - 1)
      : new Misunderstood('Two formulas stand side by side; a sign between them is missing.', at)
  }

  #literal(node: jsep.Literal): Step {
    const { value } = node
    if (typeof value !== 'number' || !Number.isFinite(value))
      throw new Misunderstood('A text may only name a field, as in field("/humidity").', placeOf(node))
    return () => value
  }

  #named(node: jsep.Identifier): Step {
    const { name } = node
    if (name === 'x') {
      this.takesSent = true
      return ({ x }) => x
    }
    const known = namedNumbers.get(name)
    if (known !== undefined) return () => known
    if (functions.has(name))
      throw new Misunderstood(`${name} is a function: write ${usage(name)}.`, placeOf(node))
    this.constants.add(name)
    return (run) => run.constant(name) ?? failed(run, `its constant ${name} is not stated for this device`)
  }

  #signed(node: jsep.UnaryExpression): Step {
    const { operator, argument } = node
    const of = signs[operator]
    if (!of) throw new Misunderstood(`"${operator}" was not understood.`, placeOf(node))
    const value = this.compile(argument)
    return (run) => of(value(run))
  }

  #joined({ operator, left, right }: jsep.BinaryExpression): Step {
    const known = operators[operator]
    if (!known) throw new Misunderstood(`"${operator}" was not understood.`, placeOf(right))
    const [a, b] = [this.compile(left), this.compile(right)]
    return (run) => known.of(a(run), b(run))
  }

  #chosen({ test, consequent, alternate }: jsep.ConditionalExpression): Step {
    const [when, then, otherwise] = [this.compile(test), this.compile(consequent), this.compile(alternate)]
    return (run) => (when(run) !== 0 ? then(run) : otherwise(run))
  }

  #called(node: jsep.CallExpression): Step {
    const { callee, arguments: given } = node
    const name = callee.type === 'Identifier' ? (callee as jsep.Identifier).name : ''
    if (name === 'field') return this.#field(node)
    const called = functions.get(name)
    const at = placeOf(node)
    if (!called) throw new Misunderstood(unknown(name), at)
    const wanted = called.takes.length
    const isRight =
      called.repeats === undefined
        ? given.length === wanted
        : given.length >= wanted && (given.length - wanted) % called.repeats === 0
    if (!isRight)
      throw new Misunderstood(
        `${name} takes ${wanted}${called.repeats ? ' or more' : ''}: ${usage(name)}.`,
        at,
      )
    const steps = given.map((one) => this.compile(one))
    return (run) => apply(called, steps, run)
  }

  #field(node: jsep.CallExpression): Step {
    const [pointer] = node.arguments
    const value = pointer?.type === 'Literal' ? (pointer as jsep.Literal).value : undefined
    if (node.arguments.length !== 1 || typeof value !== 'string' || !/^(?:\/[^/]+)+$/.test(value))
      throw new Misunderstood(
        'field takes the name of another field of the message, as in field("/humidity").',
        placeOf(node),
      )
    this.fields.add(value)
    return (run) => run.field(value) ?? failed(run, `its message has no number at ${value}`)
  }
}

function failed(run: Run, why: string): number {
  run.why ??= why
  return Number.NaN
}

function apply(called: QuantityFunction, steps: readonly Step[], run: Run): number {
  const values: number[] = []
  // It runs for every reading: nothing is made here that is not needed.
  for (let place = 0; place < steps.length; place++) {
    const value = steps[place]?.(run) ?? Number.NaN
    if (Number.isNaN(value)) return value
    const parameter = called.takes[place]
    if (parameter && (value < (parameter.from ?? -Infinity) || value > (parameter.to ?? Infinity)))
      return failed(run, `${called.name} takes ${parameter.name} ${bounds(parameter)}, not ${shortly(value)}`)
    values.push(value)
  }
  const made = called.of(...values)
  return Number.isFinite(made)
    ? made
    : failed(run, `${called.name} makes no number of ${values.map(shortly).join(', ')}`)
}

const bounds = ({ from, to }: Parameter): string =>
  from !== undefined && to !== undefined
    ? `from ${from} to ${to}`
    : from !== undefined
      ? `from ${from} on`
      : `up to ${to}`

const shortly = (value: number): string => String(Number(value.toPrecision(6)))

const usage = (name: string): string => {
  const { takes, repeats } = functions.get(name) ?? { takes: [], repeats: undefined }
  return `${name}(${takes.map((parameter) => parameter.name).join(', ')}${repeats ? ', …' : ''})`
}

function unknown(name: string): string {
  const close = [...functions.keys()].find((known) => known.startsWith(name.slice(0, 4).toLowerCase()))
  return `There is no function "${name}"${close ? `; ${usage(close)} perhaps?` : '.'}`
}
