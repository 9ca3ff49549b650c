import { longest, presentable, textProblem } from '../text/boundedText.ts'

/** A value that was written as NaN or infinity: JSON has no such numbers, yet many boards print them. */
export interface NotANumber {
  readonly notANumber: string
}

/** A whole number with more digits than a double keeps; rounding it in silence would make a counter stand still. */
export interface TooManyDigits {
  readonly tooManyDigits: string
}

/** A place that a message tells in several members, degrees and metres. */
export interface RawPosition {
  readonly lat: number
  readonly lon: number
  readonly height?: number
}

export type RawValue = number | boolean | string | null | NotANumber | TooManyDigits | RawPosition

/** One value inside a message. Whatever its format calls it (member, SenML name, column), it is named by a JSON Pointer. */
export interface Field {
  readonly pointer: string
  readonly value: RawValue
  /** UCUM code of the unit it was sent in, where the format tells. */
  readonly unit?: string
  /** Why it cannot be taken, where reading the message showed that. */
  readonly problem?: string
}

/** The fields that share one instant. `time` is what the message says of it, unread; absent when it says nothing. */
export interface FieldRecord {
  readonly time?: RawValue
  readonly fields: readonly Field[]
}

/** Writes one segment of a JSON Pointer (RFC 6901, section 3). */
export const pointerSegment = (key: string): string => `/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`

/** Reads a JSON Pointer back into its segments (RFC 6901, section 4). */
export const pointerSegments = (pointer: string): string[] =>
  pointer
    .split('/')
    .slice(1)
    .map((segment) => segment.replaceAll('~1', '/').replaceAll('~0', '~'))

/** How a field is called in a sentence: `/probes/0/temp` reads `probes.0.temp`; a full stop inside a name is `\.`. */
export const fieldLabel = (pointer: string): string =>
  pointerSegments(pointer)
    .map((segment) => segment.replaceAll(/[\\.]/g, String.raw`\$&`))
    .join('.')

/** The field that is called like this; what `fieldLabel` says, read back. */
export const fieldCalled = (label: string): string =>
  Array.from(label.matchAll(/(?:^|\.)((?:\\[\s\S]|[^\\.])*)/g), ([, segment = '']) =>
    pointerSegment(segment.replaceAll(/\\([\s\S])/g, '$1')),
  ).join('')

/**
 * Where a message was sent to below the address of its device: the beginning of each of its fields' pointers, without the
 * first slash. Empty segments, as in `/in/x/` and `/in//x`, name nothing.
 */
export const tailOf = (segments: readonly string[]): string =>
  segments
    .filter((segment) => segment !== '')
    .map(pointerSegment)
    .join('')
    .slice(1)

/** Says why no signal can be read from a field of this name; undefined when one can. */
export function fieldProblem(pointer: string): string | undefined {
  const problem = textProblem(pointer, longest.field)
  if (problem) return `its name ${problem}`
  return pointer.endsWith('/') || pointer.includes('//') ? 'it has no name' : undefined
}

/** A field's pointer as it can be told back to whoever sent it. */
export const tellField = (pointer: string): string => presentable(pointer, longest.field)

const longestQuote = 40

/** How a raw value is quoted back to whoever sent it; long texts are cut. */
export const quoteRaw = (value: RawValue): string => {
  if (typeof value === 'string') return `"${presentable(value, longestQuote + 1)}"`
  if (value === null || typeof value !== 'object') return String(value)
  if ('lat' in value) return `${value.lat}, ${value.lon}`
  return presentable('notANumber' in value ? value.notANumber : value.tooManyDigits, longestQuote + 1)
}
