import type { Decoder } from './decodeFailure.ts'
import { type Field, type FieldRecord, pointerSegment, type RawValue } from './field.ts'
import { readText } from './textValue.ts'

/**
 * The media type of `key=value` pairs, for which no standard has one: names and values with an equals sign between, pairs
 * divided by blanks, commas or semicolons, a dot in a name leading one level deeper; `t` is the time.
 */
export const pairsMediaType = 'text/x.pairs'

const pair = /([^\s,;=]+)\s*=\s*("[^"]*"|[^\s,;]*)/g

/** Reads pairs: each line is a record. */
export const decodePairs: Decoder<string> = (text) => {
  const records: FieldRecord[] = []
  for (const line of text.split(/\r?\n/)) {
    if (line.trim() === '') continue
    const fields: Field[] = []
    let time: RawValue | undefined
    for (const [, name = '', quoted = ''] of line.matchAll(pair)) {
      const value = readText(quoted.replace(/^"(.*)"$/, '$1'))
      if (name === 't') time = value
      else fields.push({ pointer: name.split('.').map(pointerSegment).join(''), value })
    }
    if (fields.length === 0)
      return { failure: `"${line.trim().slice(0, 60)}" holds no pair like temperature=21.5.` }
    records.push(time === undefined ? { fields } : { time, fields })
  }
  return records
}
