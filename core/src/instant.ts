import { isValid } from 'date-fns/isValid'
import { parseISO } from 'date-fns/parseISO'
import { quoteRaw, type RawValue } from './field.ts'

/** A number below this is taken as epoch seconds, from it on as milliseconds: as ms it is March 1973, as s the year 5138. */
const millisecondsFrom = 1e11

const zoned = /T.*(?:Z|[+-]\d\d(?::?\d\d)?)$/i

/**
 * Reads the time a message carries: ISO 8601 with a zone, epoch seconds or epoch milliseconds.
 * @returns epoch milliseconds, whole; or why it cannot be read
 */
export function parseInstant(raw: RawValue): number | { readonly problem: string } {
  if (typeof raw === 'number' && Number.isFinite(raw) && raw >= 0) {
    return Math.round(raw < millisecondsFrom ? raw * 1000 : raw)
  }
  if (typeof raw === 'string' && zoned.test(raw)) {
    const date = parseISO(raw)
    if (isValid(date)) return date.getTime()
  }
  if (typeof raw === 'string' && isValid(parseISO(raw))) {
    return {
      problem: `the time "t" is ${quoteRaw(raw)}, which has no time zone: end it with Z or an offset like +01:00`,
    }
  }
  return {
    problem: `the time "t" is ${quoteRaw(raw)}: send ISO 8601 with a zone (2026-05-01T12:00:00Z), or epoch seconds or milliseconds as a number`,
  }
}
