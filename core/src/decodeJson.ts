import { type ParseError, parse, printParseErrorCode } from 'jsonc-parser'
import { type Field, type FieldRecord, type NotANumber, pointerSegment, type RawValue } from './field.ts'

/** A body that could not be read at all, with the place where reading stopped. */
export interface DecodeFailure {
  readonly failure: string
}

/** Deep nesting is a mistake or an attack; nothing a board sends needs it. */
const deepest = 8

/** No string of a valid document starts with this character unescaped, so it can mark what we put in ourselves. */
const marker = '\u0000'

const stringOrNotANumber = /"(?:[^"\\]|\\.)*"|-?\b(?:nan|inf(?:inity)?)\b/gi

/**
 * Reads a JSON body into records of fields: an object is one record, an array of objects a backlog of several.
 * The member `t` of a record is its time. Bare `NaN` and `inf`, which microcontrollers print, do not spoil the rest:
 * they become fields that are refused by themselves.
 */
export function decodeJson(text: string): readonly FieldRecord[] | DecodeFailure {
  let document: unknown
  try {
    document = JSON.parse(text)
  } catch {
    const marked = text.replace(stringOrNotANumber, (token) =>
      token.startsWith('"') ? token : `"\\u0000${token}"`,
    )
    try {
      document = JSON.parse(marked)
    } catch {
      return { failure: describeSyntaxError(text) }
    }
  }
  const records = Array.isArray(document) ? document : [document]
  const decoded: FieldRecord[] = []
  for (const [index, record] of records.entries()) {
    if (!isObject(record)) {
      const where = Array.isArray(document) ? `entry ${index + 1} of the array is` : 'it is'
      return {
        failure: `The body must be a JSON object like {"temperature": 21.5}, or an array of such objects; ${where} ${nameOf(record)}.`,
      }
    }
    const read = decodeRecord(record)
    if ('failure' in read) return read
    decoded.push(read)
  }
  return decoded
}

function decodeRecord(record: Record<string, unknown>): FieldRecord | DecodeFailure {
  const fields: Field[] = []
  let time: RawValue | undefined
  let tooDeep = false
  const collect = (prefix: string, node: Record<string, unknown> | unknown[], depth: number): void => {
    if (depth > deepest) {
      tooDeep = true
      return
    }
    for (const [key, value] of Object.entries(node)) {
      if (value !== null && typeof value === 'object') {
        collect(prefix + pointerSegment(key), value as Record<string, unknown>, depth + 1)
      } else if (depth === 1 && key === 't') time = rawValue(value)
      else fields.push({ pointer: prefix + pointerSegment(key), value: rawValue(value) })
    }
  }
  collect('', record, 1)
  if (tooDeep) return { failure: `The body is nested more than ${deepest} levels deep.` }
  return time === undefined ? { fields } : { time, fields }
}

function rawValue(value: unknown): RawValue {
  if (typeof value === 'string' && value.startsWith(marker))
    return { notANumber: value.slice(1) } satisfies NotANumber
  return value as string | number | boolean | null
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

const nameOf = (value: unknown): string =>
  Array.isArray(value) ? 'an array' : value === null ? 'null' : `a ${typeof value}`

const explanations: Record<string, string> = {
  PropertyNameExpected: 'a name in double quotes was expected',
  ValueExpected: 'a value was expected',
  ColonExpected: 'a colon was expected',
  CommaExpected: 'a comma was expected',
  CloseBraceExpected: 'a closing } was expected',
  CloseBracketExpected: 'a closing ] was expected',
  EndOfFileExpected: 'the body should have ended',
  InvalidSymbol: 'a word was found that is not a JSON value',
  InvalidNumberFormat: 'a number is written wrongly',
  UnexpectedEndOfString: 'a text is missing its closing quote',
}

function describeSyntaxError(text: string): string {
  if (text.trim() === '') return 'The body is empty; send a JSON object like {"temperature": 21.5}.'
  const errors: ParseError[] = []
  parse(text, errors, { disallowComments: true, allowTrailingComma: false })
  const first = errors[0]
  if (!first) return 'The body is not JSON.'
  const before = text.slice(0, first.offset)
  const line = before.split('\n').length
  const column = first.offset - before.lastIndexOf('\n')
  const code = printParseErrorCode(first.error)
  const near = text.slice(Math.max(0, first.offset - 12), first.offset + 12).replace(/\s+/g, ' ')
  return `The body is not JSON: ${explanations[code] ?? code} at line ${line}, column ${column}, near \`${near}\`.`
}
