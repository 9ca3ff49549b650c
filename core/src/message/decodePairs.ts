import type { Decoder } from './decodeFailure.ts'
import { type Field, type FieldRecord, fieldCalled, pointerSegment, type RawValue } from './field.ts'
import { readText } from './textValue.ts'

/**
 * The media type of `key=value` pairs, for which no standard has one: names and values with an equals sign between, pairs
 * divided by blanks, commas or semicolons, a dot in a name leading one level deeper; `t` is the time.
 */
export const pairsMediaType = 'text/x.pairs'

/** A word with its value, or one that has none; each is taken whole, so that a line costs no more than its length. */
const wordOrPair = /([^\s,;=]+)(?:\s*=\s*("[^"]*"|[^\s,;]*))?/g

const digits = /^\d+$/

interface Pair {
  readonly name: string
  value: string
  readonly end: number
}

/** Reads pairs: each line is a record. */
export const decodePairs: Decoder<string> = (text) => {
  const records: FieldRecord[] = []
  for (const line of text.split(/\r?\n/)) {
    if (line.trim() === '') continue
    const { pairs, strays } = pairsOf(line)
    const fields: Field[] = strays
    let time: RawValue | undefined
    for (const { name, value: quoted } of pairs) {
      const value = readText(quoted.replace(/^"(.*)"$/, '$1'))
      if (name === 't') time = value
      else fields.push({ pointer: fieldCalled(name), value })
    }
    if (pairs.length === 0 || fields.length === 0)
      return { failure: `"${line.trim().slice(0, 60)}" holds no pair like temperature=21.5.` }
    records.push(time === undefined ? { fields } : { time, fields })
  }
  return records
}

/** A number without a name is no remark as other words are: it may be the rest of one with a decimal comma. */
function pairsOf(line: string): { pairs: Pair[]; strays: Field[] } {
  const pairs: Pair[] = []
  const strays: Field[] = []
  for (const { 0: whole, 1: name = '', 2: value, index } of line.matchAll(wordOrPair)) {
    const last = pairs.at(-1)
    if (value !== undefined) pairs.push({ name, value, end: index + whole.length })
    else if (last && index === last.end + 1 && line[last.end] === ',' && digits.test(name))
      last.value += `,${name}`
    else if (typeof readText(name) === 'number')
      strays.push({
        pointer: pointerSegment(name),
        value: readText(name),
        problem: 'it stands there without a name, such as temperature=21.5',
      })
  }
  return { pairs, strays }
}
