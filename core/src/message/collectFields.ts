import { longest } from '../text/boundedText.ts'
import type { DecodeFailure } from './decodeFailure.ts'
import { type Field, type FieldRecord, pointerSegment, type RawValue } from './field.ts'

/** Deep nesting is a mistake or an attack; nothing a board sends needs it. */
const deepest = 8

/**
 * Reads a decoded document into records: an object is one record, an array of objects a backlog of several. The member
 * `t` on the outermost level of a record is its time.
 * @param rawValue what a leaf of this format is
 */
export function collectRecords(
  document: unknown,
  rawValue: (leaf: unknown) => RawValue,
): readonly FieldRecord[] | DecodeFailure {
  const records = Array.isArray(document) ? document : [document]
  const decoded: FieldRecord[] = []
  for (const [index, record] of records.entries()) {
    if (!isObject(record)) {
      const where = Array.isArray(document) ? `entry ${index + 1} of the array is` : 'it is'
      return {
        failure: `The body must be an object like {"temperature": 21.5}, or an array of such objects; ${where} ${nameOf(record)}.`,
      }
    }
    const read = collectRecord(record, rawValue)
    if ('failure' in read) return read
    decoded.push(read)
  }
  return decoded
}

function collectRecord(record: Branch, rawValue: (leaf: unknown) => RawValue): FieldRecord | DecodeFailure {
  const fields: Field[] = []
  if (!collect(fields, '', record, 1, rawValue))
    return { failure: `The body is nested more than ${deepest} levels deep.` }
  const time = record instanceof Map ? record.get('t') : Object.hasOwn(record, 't') ? record.t : undefined
  return time === undefined || isBranch(time) ? { fields } : { time: rawValue(time), fields }
}

/** Adds the fields of an object, or of a map where a format has them, and of what is in it. @returns whether the bottom was reached */
function collect(
  fields: Field[],
  prefix: string,
  node: object,
  depth: number,
  rawValue: (leaf: unknown) => RawValue,
): boolean {
  if (depth > deepest) return false
  for (const [name, value] of node instanceof Map ? node : Object.entries(node)) {
    const key = String(name)
    if (isBranch(value)) {
      const below = prefix + pointerSegment(key)
      // Written again with each field below it, a long name would cost its length each time.
      if (below.length > longest.field) fields.push({ pointer: below, value: null, problem: tooLong })
      else if (!collect(fields, below, value, depth + 1, rawValue)) return false
    } else if (depth > 1 || key !== 't') {
      fields.push({ pointer: prefix + pointerSegment(key), value: rawValue(value) })
    }
  }
  return true
}

const tooLong = `the names above it are longer than ${longest.field} characters`

type Branch = Record<string, unknown> | Map<unknown, unknown>

/** Bytes are a value, not a branch with an entry for each of them. */
const isBranch = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && !ArrayBuffer.isView(value)

const isObject = (value: unknown): value is Branch => isBranch(value) && !Array.isArray(value)

const nameOf = (value: unknown): string =>
  Array.isArray(value) ? 'an array' : value === null ? 'null' : `a ${typeof value}`
