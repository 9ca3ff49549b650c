import { readText } from '../message/textValue.ts'
import { parseInstant } from './instant.ts'
import type { LocalClock } from './localClock.ts'

/**
 * How the times in a file are written: with their zone (ISO 8601), as epoch seconds or milliseconds, or as a clock on a
 * wall showed them, with the year, the day or the month first.
 */
export const timeFormats = ['zoned', 'epoch', 'year-first', 'day-first', 'month-first'] as const
export type TimeFormat = (typeof timeFormats)[number]

/** Whether a format leaves open in which zone the clock hung. */
export const needsZone = (format: TimeFormat): boolean => format.endsWith('-first')

const clock = String.raw`(?:[T ,]+(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,6}))?)?\s*([ap]m)?)?`
const yearFirst = new RegExp(String.raw`^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})${clock}$`, 'i')
const yearLast = new RegExp(String.raw`^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4}|\d{2})${clock}$`, 'i')

/** What a clock on a wall showed, as epoch ms it would be in UTC; undefined when the text is no such time. */
function shownTime(text: string, format: TimeFormat): number | undefined {
  const found = (format === 'year-first' ? yearFirst : yearLast).exec(text.trim())
  if (!found) return undefined
  const [, a, b, c, hour = '0', minute = '0', second = '0', fraction = '0', half] = found
  const [year, month, day] = (
    format === 'year-first' ? [a, b, c] : format === 'day-first' ? [c, b, a] : [c, a, b]
  ).map(Number) as [number, number, number]
  const fullYear = year < 100 ? 2000 + year : year
  const hours = half ? (Number(hour) % 12) + (half.toLowerCase() === 'pm' ? 12 : 0) : Number(hour)
  // Midnight at the end of a day is written 24:00 (ISO 8601-1:2019, section 4.3.8.2).
  const endsDay = hours === 24 && Number(minute) === 0 && Number(second) === 0 && Number(fraction) === 0
  if ((hours > 23 && !endsDay) || Number(minute) > 59 || Number(second) > 59) return undefined
  const ms = Math.round(Number(`0.${fraction}`) * 1000)
  const midnight = Date.UTC(fullYear, month - 1, day)
  // A 31st of April would have become a 1st of May.
  const date = new Date(midnight)
  if (date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day) return undefined
  return midnight + ((hours * 60 + Number(minute)) * 60 + Number(second)) * 1000 + ms
}

/** Reads a time out of a file. @returns epoch ms, or why it cannot be read */
export function readFileTime(
  text: string,
  format: TimeFormat,
  wall: LocalClock,
): number | { readonly problem: string } {
  if (!needsZone(format)) {
    const raw = readText(text)
    return (typeof raw === 'number') === (format === 'epoch')
      ? parseInstant(raw)
      : { problem: `"${text}" is not a time of the kind that was chosen` }
  }
  const shown = shownTime(text, format)
  if (shown === undefined) return { problem: `"${text}" is not a time of the kind that was chosen` }
  return wall.instant(shown) ?? { problem: `"${text}" never was: summer time began and skipped it` }
}

/** A number below this is a count or a value, not a time since 1970; it is in March 1973. */
const earliestEpoch = 1e8

/** A file may hold a few odd rows; more than one in ten says that the format is another one. */
const enough = 0.9

/**
 * Finds the format that these texts are written in, all but a few.
 * @returns its name, and whether day and month could as well be the other way round; undefined when no format fits
 */
export function detectTimeFormat(
  texts: readonly string[],
): { readonly format: TimeFormat; readonly doubtful: boolean } | undefined {
  if (texts.length === 0) return undefined
  const count = (fits: (text: string) => boolean) => texts.filter(fits).length
  const numbers = count((text) => {
    const raw = readText(text)
    return typeof raw === 'number' && raw >= earliestEpoch
  })
  const zoned = count((text) => {
    const raw = readText(text)
    return typeof raw === 'string' && typeof parseInstant(raw) === 'number'
  })
  const shown = (['year-first', 'day-first', 'month-first'] as const).map((format) => ({
    format,
    fitting: count((text) => shownTime(text, format) !== undefined),
  }))
  const found = [{ format: 'epoch', fitting: numbers } as const, { format: 'zoned', fitting: zoned } as const]
  const [best, next] = [...found, ...shown].sort((a, b) => b.fitting - a.fitting)
  if (!best || best.fitting < enough * texts.length) return undefined
  const doubtful = next?.fitting === best.fitting && !texts.some((text) => text.includes('.'))
  return { format: best.format, doubtful }
}
