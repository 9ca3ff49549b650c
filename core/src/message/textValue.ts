import type { RawValue } from './field.ts'

/** Each part can be read in one way only, so that a long text costs no more than its length. */
const decimal = /^[-+]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[-+]?\d+)?$/i
const wholeNumber = /^[-+]?\d+$/
/** What boards print for numbers that are none; `ovf` is one that does not fit what prints it. */
const notANumber = /^-?(?:nan|inf(?:inity)?|ovf)$/i

/** Nobody writes a number in more characters. */
const longestNumber = 400

/** Reads a value out of a format that knows only text: a form, a CSV cell, a bare body. */
export function readText(text: string): RawValue {
  const trimmed = text.trim()
  if (trimmed.length > longestNumber) return trimmed
  if (decimal.test(trimmed)) {
    const value = Number(trimmed)
    return wholeNumber.test(trimmed) && !isExact(trimmed, value) ? { tooManyDigits: trimmed } : value
  }
  if (notANumber.test(trimmed)) return { notANumber: trimmed }
  if (/^true$/i.test(trimmed)) return true
  if (/^false$/i.test(trimmed)) return false
  return trimmed
}

/** Whether a number that was written in digits is held as it was written. */
export const isExact = (digits: string, value: number): boolean =>
  Number.isSafeInteger(value) || (Number.isFinite(value) && BigInt(value) === BigInt(digits.replace('+', '')))
