import { quoteRaw, type RawValue } from './field.ts'
import type { SignalKind } from './signal.ts'

/**
 * Turns a field's raw value into the signal's number: a number stays itself, a switch becomes 0 or 1.
 * @returns the value in the signal's unit, or the reason why this raw value is none
 */
export function convert(raw: RawValue, kind: SignalKind): number | { readonly problem: string } {
  if (raw !== null && typeof raw === 'object') {
    return {
      problem: `it was sent as ${raw.notANumber}, which is not a number: check the sensor, or leave the field out`,
    }
  }
  if (raw === null)
    return { problem: 'it was sent as null, which is not a value: leave the field out instead' }
  if (kind === 'switch') {
    const state = switchStates.get(typeof raw === 'string' ? raw.toLowerCase() : raw)
    return (
      state ?? { problem: `this signal is a switch: send true or false (or 1 or 0), not ${quoteRaw(raw)}` }
    )
  }
  if (typeof raw === 'string') {
    const unquoted =
      raw.trim() !== '' && Number.isFinite(Number(raw)) ? `: send ${raw.trim()} without quotes` : ''
    return { problem: `this signal is a number, but the text ${quoteRaw(raw)} was sent${unquoted}` }
  }
  if (typeof raw === 'boolean') return { problem: `this signal is a number, but ${raw} was sent` }
  if (!Number.isFinite(raw)) return { problem: 'the number is too large to hold' }
  return raw
}

const switchStates = new Map<number | boolean | string, number>([
  [false, 0],
  [0, 0],
  ['off', 0],
  ['false', 0],
  [true, 1],
  [1, 1],
  ['on', 1],
  ['true', 1],
])
