import { compileFormula, type Formula, type FormulaProblem, type Scope } from '../formula/index.ts'
import { quoteRaw, type RawValue } from '../message/field.ts'
import { readText } from '../message/textValue.ts'
import type { Choice, SignalDefinition } from '../signal/signal.ts'
import type { SignalValue } from '../signal/value.ts'
import { longest, textProblem } from '../text/boundedText.ts'

interface Problem {
  readonly problem: string
}

/** The value of a signal, and what was sent where a conversion made the value of it. */
export interface Converted {
  readonly value: SignalValue
  readonly raw?: number
}

/** What converting has to know of a signal. */
export type Convertible = Pick<SignalDefinition, 'kind' | 'choices' | 'conversion' | 'faults'>

/** What a conversion may ask for besides what was sent: other fields of the message, and constants of the device. */
export type Surroundings = Pick<Scope, 'field' | 'constant'>

/**
 * Turns a field's raw value into the signal's: a number stays itself, also when it was sent as text, unless the signal has a
 * conversion; a switch becomes 0 or 1, a state its code. What means a fault stays as it was sent.
 * @returns the value in the signal's unit, or the reason why this raw value is none
 */
export function convert(
  raw: RawValue,
  signal: Convertible,
  surroundings: Surroundings = nothingAround,
): Converted | Problem {
  if (raw === null)
    return { problem: 'it was sent as null, which is not a value: leave the field out instead' }
  switch (signal.kind) {
    case 'number':
      return isPlace(raw) ? wrong('a number', raw) : inUnit(number(raw), signal, surroundings)
    case 'switch':
      return isPlace(raw) ? wrong('a switch', raw) : valued(switchState(raw))
    case 'choice':
      return isPlace(raw) ? wrong('a choice', raw) : valued(stateOf(raw, signal.choices))
    case 'text':
      return text(raw)
    case 'position':
      return isPlace(raw)
        ? { value: raw }
        : { problem: `this signal is a position: send {"lat": 53.1, "lon": -6.2}, not ${quoteRaw(raw)}` }
    case 'momentary':
      return { problem: 'this signal can only be triggered; it has no value' }
  }
}

const isPlace = (raw: RawValue): raw is Extract<RawValue, { lat: number }> =>
  typeof raw === 'object' && raw !== null && 'lat' in raw

const wrong = (what: string, raw: RawValue): Problem => ({
  problem: `this signal is ${what}, but a position was sent (${quoteRaw(raw)})`,
})

const valued = (value: number | Problem): Converted | Problem =>
  typeof value === 'number' ? { value } : value

const nothingAround: Surroundings = { field: () => undefined, constant: () => undefined }

function inUnit(
  sent: number | Problem,
  signal: Convertible,
  surroundings: Surroundings,
): Converted | Problem {
  if (typeof sent !== 'number') return sent
  if (signal.conversion === null) return { value: sent }
  if (signal.faults.some(({ value }) => value === sent)) return { value: sent, raw: sent }
  const formula = formulaOf(signal, signal.conversion)
  if ('problem' in formula) return { problem: `its conversion cannot be read: ${formula.problem}` }
  const { field, constant } = surroundings
  const outcome = formula.evaluate({ x: sent, field, constant })
  return 'value' in outcome
    ? { value: outcome.value, raw: sent }
    : { problem: `its conversion makes no number of ${sent}: ${outcome.problem}` }
}

/** What was read once for each description. */
const read = new WeakMap<Convertible, Formula | FormulaProblem>()

function formulaOf(signal: Convertible, conversion: string): Formula | FormulaProblem {
  const known = read.get(signal)
  if (known) return known
  const formula = compileFormula(conversion)
  read.set(signal, formula)
  return formula
}

type NoNumber = Extract<RawValue, { notANumber: string } | { tooManyDigits: string }>
type Plain = Exclude<RawValue, null | { lat: number }>

const noNumber = (raw: NoNumber): Problem => ({
  problem:
    'notANumber' in raw
      ? `it was sent as ${quoteRaw(raw)}, which is not a number: check the sensor, or leave the field out`
      : `${quoteRaw(raw)} has more digits than a number can hold (whole numbers are exact up to 9007199254740991): send it in two fields, or a difference`,
})

function switchState(raw: Plain): number | Problem {
  if (typeof raw === 'object') return noNumber(raw)
  const state = switchStates.get(typeof raw === 'string' ? raw.trim().toLowerCase() : raw)
  return state ?? { problem: `this signal is a switch: send true or false (or 1 or 0), not ${quoteRaw(raw)}` }
}

/** A state is called by its name, whatever its case, or by its code. */
function stateOf(raw: Plain, choices: readonly Choice[]): number | Problem {
  const said = typeof raw === 'string' ? raw.trim().toLowerCase() : raw
  const found = choices.find(
    ({ code, name }) => said === code || said === name.toLowerCase() || said === String(code),
  )
  if (found) return found.code
  const known = choices.map(({ code, name }) => `${name} (${code})`).join(', ')
  return { problem: `${quoteRaw(raw)} is none of the states of this signal: ${known}` }
}

function text(raw: Exclude<RawValue, null>): Converted | Problem {
  if (isPlace(raw)) return { value: quoteRaw(raw) }
  const said =
    typeof raw === 'object' ? ('notANumber' in raw ? raw.notANumber : raw.tooManyDigits) : String(raw)
  const problem = textProblem(said, longest.text)
  return problem === undefined ? { value: said } : { problem: `the text ${problem}` }
}

/** The number that another field of a message holds; undefined where it holds none. */
export function numberIn(raw: RawValue | undefined): number | undefined {
  if (raw === undefined || raw === null || isPlace(raw)) return undefined
  const found = number(raw)
  return typeof found === 'number' ? found : undefined
}

const decimalComma = /^[-+]?\d+,\d+$/

function number(raw: Plain): number | Problem {
  if (typeof raw === 'object') return noNumber(raw)
  if (typeof raw === 'boolean') return { problem: `this signal is a number, but ${raw} was sent` }
  if (typeof raw === 'number')
    return Number.isFinite(raw) ? raw : { problem: 'the number is too large to hold' }
  const read = readText(raw)
  if (typeof read === 'number') return number(read)
  if (read !== null && typeof read === 'object' && !('lat' in read)) return noNumber(read)
  return {
    problem: decimalComma.test(raw.trim())
      ? `${quoteRaw(raw)} has a decimal comma: send ${raw.trim().replace(',', '.')}`
      : `this signal is a number, but the text ${quoteRaw(raw)} was sent`,
  }
}

const switchStates = new Map<number | boolean | string, number>([
  [false, 0],
  [0, 0],
  ['0', 0],
  ['off', 0],
  ['false', 0],
  [true, 1],
  [1, 1],
  ['1', 1],
  ['on', 1],
  ['true', 1],
])
