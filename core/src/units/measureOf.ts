import Fraction from 'fraction.js'
import { type Atom, atoms, prefixes } from './atoms.ts'
import { longestUnit } from './longestUnit.ts'

/** What a unit measures, and how much of it: `(value + offset) × factor` is told in base units. */
export interface Measure {
  /** Base units with their exponents, as `g m-1 s-2`; the same for all units that can stand for each other. */
  readonly dimension: string
  readonly factor: Fraction
  readonly offset: Fraction
}

/** A unit that cannot be read. */
export class UnitError extends Error {}

const greatestExponent = 9

interface Product {
  factor: Fraction
  readonly exponents: Map<string, number>
}

const one = new Fraction(1)
const none = new Fraction(0)
const ten = new Fraction(10)

/**
 * Reads a unit as written in UCUM (case sensitive, section 2). A temperature with an offset keeps it when it stands alone; in
 * `Cel/min` it is a difference.
 * @throws UnitError which says what was not understood
 */
export function measureOf(code: string): Measure {
  if (code.length > longestUnit) throw new UnitError(`A unit has at most ${longestUnit} characters.`)
  const bare = code.replaceAll(/\{[^{}]*\}/g, '')
  const alone = atomOf(bare)
  const product: Product = { factor: one, exponents: new Map() }
  if (bare !== '') new Reader(bare).term(product, 1)
  const dimension = [...product.exponents]
    .filter(([, exponent]) => exponent !== 0)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([base, exponent]) => `${base}${exponent === 1 ? '' : exponent}`)
    .join(' ')
  const offset = alone?.atom.offset ? new Fraction(alone.atom.offset).div(alone.prefix) : none
  return { dimension, factor: product.factor, offset }
}

/** Whether a code can be read as a unit. */
export function isUnit(code: string): boolean {
  try {
    measureOf(code)
    return true
  } catch (error) {
    if (error instanceof UnitError) return false
    throw error
  }
}

function atomOf(symbol: string): { atom: Atom; prefix: Fraction } | undefined {
  const whole = atoms.get(symbol)
  if (whole) return { atom: whole, prefix: one }
  for (const length of [2, 1]) {
    const prefix = prefixes[symbol.slice(0, length)]
    const atom = atoms.get(symbol.slice(length))
    if (prefix !== undefined && atom?.isMetric) return { atom, prefix: ten.pow(prefix) ?? one }
  }
  return undefined
}

/** Reads from left to right, and never twice. */
class Reader {
  readonly #code: string
  #place = 0

  constructor(code: string) {
    this.#code = code
  }

  term(into: Product, sign: 1 | -1, isInside = false): void {
    let side = sign
    if (this.#take('/')) side = negated(side)
    for (;;) {
      this.#component(into, side)
      if (this.#take('.')) side = sign
      else if (this.#take('/')) side = negated(sign)
      else break
    }
    if (isInside ? !this.#take(')') : this.#place < this.#code.length)
      throw new UnitError(
        isInside
          ? `In the unit "${this.#code}" a bracket is not closed.`
          : `In the unit "${this.#code}", "${this.#code.slice(this.#place)}" was not understood.`,
      )
  }

  #component(into: Product, side: 1 | -1): void {
    if (this.#take('(')) {
      this.term(into, side, true)
      return
    }
    const symbol = this.#match(/(?:10[*^]|\[[^\]]*\]|[^\s./()[\]0-9+-])+|\d+/y)
    if (symbol === undefined)
      throw new UnitError(`In the unit "${this.#code}" a part is missing at character ${this.#place + 1}.`)
    if (/^\d+$/.test(symbol)) {
      if (Number(symbol) === 0) throw new UnitError(`The unit "${this.#code}" has a factor of nothing.`)
      into.factor = into.factor.mul(new Fraction(symbol).pow(side) ?? one)
      return
    }
    const exponent = Number(this.#match(/[+-]?\d+/y) ?? 1) * side
    if (Math.abs(exponent) > (symbol.startsWith('10') ? 30 : greatestExponent))
      throw new UnitError(`In the unit "${this.#code}" an exponent is too large.`)
    multiply(into, symbol, exponent, this.#code)
  }

  #take(sign: string): boolean {
    if (this.#code[this.#place] !== sign) return false
    this.#place++
    return true
  }

  #match(pattern: RegExp): string | undefined {
    pattern.lastIndex = this.#place
    const found = pattern.exec(this.#code)?.[0]
    this.#place += found?.length ?? 0
    return found
  }
}

const negated = (side: 1 | -1): 1 | -1 => (side === 1 ? -1 : 1)

function multiply(into: Product, symbol: string, exponent: number, code: string): void {
  const found = atomOf(symbol)
  if (!found)
    throw new UnitError(
      `"${symbol}"${symbol === code ? '' : ` in "${code}"`} is no unit of UCUM; °C for example is written Cel, µg/m³ ug/m3.`,
    )
  const { atom, prefix } = found
  const power = (value: Fraction) => value.pow(exponent) ?? one
  into.factor = into.factor.mul(power(prefix)).mul(power(new Fraction(atom.value)))
  if (atom.of === undefined) {
    into.exponents.set(symbol.slice(-atom.code.length), (into.exponents.get(atom.code) ?? 0) + exponent)
  } else {
    // The table is finite and names only what stands above: it ends.
    const inner: Product = { factor: one, exponents: new Map() }
    new Reader(atom.of).term(inner, 1)
    into.factor = into.factor.mul(power(inner.factor))
    for (const [base, times] of inner.exponents)
      into.exponents.set(base, (into.exponents.get(base) ?? 0) + times * exponent)
  }
}
