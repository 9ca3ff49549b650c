/** A value that was written as NaN or infinity: JSON has no such numbers, yet many boards print them. */
export interface NotANumber {
  readonly notANumber: string
}

export type RawValue = number | boolean | string | null | NotANumber

/** One value inside a message. Whatever its format calls it (member, SenML name, column), it is named by a JSON Pointer. */
export interface Field {
  readonly pointer: string
  readonly value: RawValue
  /** UCUM code of the unit it was sent in, where the format tells. */
  readonly unit?: string
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

/** How a field is called in a sentence: `/probes/0/temp` reads `probes.0.temp`. */
export const fieldLabel = (pointer: string): string => pointerSegments(pointer).join('.')

/** How a raw value is quoted back to whoever sent it; long texts are cut. */
export const quoteRaw = (value: RawValue): string => {
  if (typeof value === 'string') return value.length > 40 ? `"${value.slice(0, 40)}…"` : `"${value}"`
  if (value !== null && typeof value === 'object') return value.notANumber
  return String(value)
}
