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
export type Convertible = Pick<SignalDefinition, 'kind' | 'choices' | 'conversion'>

/**
 * Turns a field's raw value into the signal's: a number stays itself, also when it was sent as text, unless the signal has a
 * conversion; a switch becomes 0 or 1, a state its code.
 * @returns the value in the signal's unit, or the reason why this raw value is none
 */
export function convert(raw: RawValue, signal: Convertible): Converted | Problem {
  if (raw === null)
    return { problem: 'it was sent as null, which is not a value: leave the field out instead' }
  switch (signal.kind) {
    case 'number':
      return isPlace(raw) ? wrong('a number', raw) : inUnit(number(raw), signal.conversion)
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

function inUnit(sent: number | Problem, conversion: Convertible['conversion']): Converted | Problem {
  if (typeof sent !== 'number') return sent
  if (!conversion) return { value: sent }
  const value = sent * conversion.factor + conversion.offset
  return Number.isFinite(value)
    ? { value, raw: sent }
    : { problem: `its conversion makes no number of ${sent}` }
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
