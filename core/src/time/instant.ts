import { isValid } from 'date-fns/isValid'
import { parseISO } from 'date-fns/parseISO'
import { quoteRaw, type RawValue } from '../message/field.ts'

/** A number below this is taken as epoch seconds, from it on as milliseconds: as ms it is March 1973, as s the year 5138. */
const millisecondsFrom = 1e11

const zoned = /[T ].*(?:Z|[+-]\d\d(?::?\d\d)?)$/

/** With a fraction of nine digits and an offset a time is shorter than this. */
const longestTime = 40

/**
 * Reads the time a message carries: ISO 8601 with a zone, with a blank for the T as RFC 3339 allows, epoch seconds or epoch
 * milliseconds.
 * @returns epoch milliseconds, whole; or why it cannot be read
 */
export function parseInstant(raw: RawValue): number | { readonly problem: string } {
  if (typeof raw === 'number' && Number.isFinite(raw) && raw >= 0) {
    return Math.round(raw < millisecondsFrom ? raw * 1000 : raw)
  }
  const text = typeof raw === 'string' && raw.length <= longestTime ? raw.trim().toUpperCase() : ''
  const date = parseISO(text)
  if (isValid(date)) {
    return zoned.test(text)
      ? date.getTime()
      : {
          problem: `the time "t" is ${quoteRaw(raw)}, which has no time zone: end it with Z or an offset like +01:00`,
        }
  }
  return {
    problem: `the time "t" is ${quoteRaw(raw)}: send ISO 8601 with a zone (2026-05-01T12:00:00Z), or epoch seconds or milliseconds as a number`,
  }
}
