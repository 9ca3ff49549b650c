import type { RawValue } from './field.ts'

const decimal = /^[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?$/i
const notANumber = /^-?(?:nan|inf(?:inity)?)$/i

/** Reads a value out of a format that knows only text: a form, a CSV cell, a bare body. */
export function readText(text: string): RawValue {
  const trimmed = text.trim()
  if (decimal.test(trimmed)) return Number(trimmed)
  if (notANumber.test(trimmed)) return { notANumber: trimmed }
  if (/^true$/i.test(trimmed)) return true
  if (/^false$/i.test(trimmed)) return false
  return trimmed
}
