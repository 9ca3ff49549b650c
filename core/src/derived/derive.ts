import { compileFormula, constantsOf, type Formula } from '../formula/index.ts'
import {
  isVoid,
  isWithin,
  Quality,
  type QualityBits,
  reachOf,
  type Span,
  type Take,
} from '../signal/index.ts'
import { localPeriods } from '../time/index.ts'
import { taken } from './takings.ts'
import { type Held, hasReach } from './window.ts'

/** A reading of a number, as what follows from it needs it. Instants are epoch ms. */
export interface NumberReading {
  readonly at: number
  readonly receivedAt: number
  readonly value: number
  readonly quality: QualityBits
}

/** One of the signals that a derived one follows from, found. */
export interface FoundInput {
  readonly name: string
  /** Number of the signal. */
  readonly signal: number
  readonly take: Take
  /** s */
  readonly ageLimit: number
}

/** Which of its readings before an instant matter for what is derived from there on. Instants are epoch ms. */
export interface NeededBefore {
  /** All after this one, */
  readonly after: number
  /** and up to it the last one, and the last that counts, when they are not before this. */
  readonly oldest: number
}

export function neededBefore(
  { take, ageLimit }: Pick<FoundInput, 'take' | 'ageLimit'>,
  from: number,
): NeededBefore {
  const after = from - 1 - (reachOf({ take, ageLimit }) - ageLimit) * 1000
  return { after, oldest: after - ageLimit * 1000 }
}

/** How a derived signal follows from others, with all that holds: it is worked out from this and readings alone. */
export interface FoundDerivation {
  readonly formula: string
  readonly inputs: readonly FoundInput[]
  readonly constants: Readonly<Record<string, number>>
  /** Whether it is off or on, and no number. */
  readonly isSwitch: boolean
  readonly range: Span
  /** IANA name of the zone whose days it looks back over. */
  readonly zone: string
}

/**
 * Works out a derived signal at each instant at which one of its inputs has a reading, from the last of each up to then. It has no
 * value where an input has none within its age limit, where the last one says nothing (at fault, marked bad), and where the formula
 * makes none.
 * @param rows of each input, by its place, in order: what is needed before the span, and all inside it
 * @param from,to epoch ms, both ends included
 */
export function derive(
  derivation: FoundDerivation,
  rows: readonly (readonly NumberReading[])[],
  from: number,
  to: number,
): NumberReading[] {
  const formula = readFormula(derivation.formula)
  const inputs = derivation.inputs.map((input, place) => new Input(input, rows[place] ?? [], derivation.zone))
  const values = new Map<string, number>()
  const stated = constantsOf(derivation.constants)
  const constant = (name: string): number | undefined => values.get(name) ?? stated(name)
  const made: NumberReading[] = []
  for (const { at, receivedAt } of instantsOf(rows, from, to)) {
    let quality: QualityBits = Quality.good
    let isComplete = true
    for (const input of inputs) {
      const found = input.at(at)
      if (found === undefined) {
        isComplete = false
        break
      }
      values.set(input.name, found.value)
      quality |= found.quality
    }
    if (!isComplete) continue
    const outcome = formula.evaluate({ x: Number.NaN, field: () => undefined, constant })
    if ('problem' in outcome) continue
    const value = derivation.isSwitch ? Number(outcome.value !== 0) : outcome.value
    if (!isWithin(value, derivation.range)) quality |= Quality.beyondRange
    made.push({ at, receivedAt, value, quality })
  }
  return made
}

/** What each input comes to at an instant, by its name; undefined where it says nothing. */
export function inputsAt(
  { inputs, zone }: Pick<FoundDerivation, 'inputs' | 'zone'>,
  rows: readonly (readonly NumberReading[])[],
  at: number,
): Map<string, number | undefined> {
  return new Map(
    inputs.map((input, place) => [input.name, new Input(input, rows[place] ?? [], zone).at(at)?.value]),
  )
}

function readFormula(text: string): Formula {
  const formula = compileFormula(text)
  if ('problem' in formula) throw new Error(`a formula that was taken cannot be read: ${formula.problem}`)
  return formula
}

/** The instants at which any of several has a reading, in order, and when the last of that instant came in. */
function instantsOf(
  rows: readonly (readonly NumberReading[])[],
  from: number,
  to: number,
): { readonly at: number; readonly receivedAt: number }[] {
  const received = new Map<number, number>()
  for (const of of rows)
    for (const { at, receivedAt } of of)
      if (at >= from && at <= to) received.set(at, Math.max(received.get(at) ?? 0, receivedAt))
  return Array.from(received, ([at, receivedAt]) => ({ at, receivedAt })).sort((a, b) => a.at - b.at)
}

/** One input, gone through from instant to instant. */
class Input {
  readonly name: string
  readonly #take: Take
  readonly #gap: number
  readonly #zone: string
  readonly #rows: readonly NumberReading[]
  readonly #readings: readonly Held[]
  /** Places of the next one of all, and of those that count. */
  #nextRow = 0
  #next = 0
  #first = 0
  #day = { from: 0, to: 0 }

  constructor({ name, take, ageLimit }: FoundInput, rows: readonly NumberReading[], zone: string) {
    this.name = name
    this.#take = take
    this.#gap = ageLimit * 1000
    this.#zone = zone
    this.#rows = rows
    this.#readings = rows.filter(({ quality }) => !isVoid(quality))
  }

  /** What it comes to at an instant, which is never before the last one asked for. */
  at(at: number): { readonly value: number; readonly quality: QualityBits } | undefined {
    while ((this.#rows[this.#nextRow]?.at ?? Infinity) <= at) this.#nextRow++
    while ((this.#readings[this.#next]?.at ?? Infinity) <= at) this.#next++
    const newest = this.#rows[this.#nextRow - 1]
    if (!newest || at - newest.at > this.#gap || isVoid(newest.quality)) return undefined
    const { from, isInside } = this.#begins(at)
    while (isBefore(this.#readings[this.#first]?.at ?? Infinity, from, isInside)) this.#first++
    const window = {
      readings: this.#readings,
      first: this.#first,
      last: this.#next - 1,
      from,
      at,
      gap: this.#gap,
    }
    const value = taken(this.#take, window)
    return Number.isNaN(value) ? undefined : { value, quality: newest.quality }
  }

  /** Where the span that ends at an instant begins, and whether what is of that instant is inside: of midnight it is of the day. */
  #begins(at: number): { readonly from: number; readonly isInside: boolean } {
    if (!hasReach(this.#take)) return { from: at - this.#gap, isInside: true }
    if (this.#take.over !== 'day') return { from: at - this.#take.over * 1000, isInside: false }
    if (at < this.#day.from || at >= this.#day.to) {
      const [day] = localPeriods(at, at + 1, 'day', this.#zone)
      if (!day) throw new Error(`there is no day at ${at}`)
      this.#day = day
    }
    return { from: this.#day.from, isInside: true }
  }
}

const isBefore = (at: number, from: number, isInside: boolean): boolean => (isInside ? at < from : at <= from)
