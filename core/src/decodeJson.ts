import { type ParseError, parse, printParseErrorCode } from 'jsonc-parser'
import { collectRecords } from './collectFields.ts'
import type { Decoder } from './decodeFailure.ts'
import type { RawValue } from './field.ts'

/** No string of a valid document starts with this character unescaped, so it can mark what we put in ourselves. */
const marker = '\u0000'

const stringOrNotANumber = /"(?:[^"\\]|\\.)*"|-?\b(?:nan|inf(?:inity)?)\b/gi

/**
 * Reads a JSON body into records of fields: an object is one record, an array of objects a backlog of several.
 * The member `t` of a record is its time. Bare `NaN` and `inf`, which microcontrollers print, do not spoil the rest:
 * they become fields that are refused by themselves.
 */
export const decodeJson: Decoder<string> = (text) => {
  let document: unknown
  try {
    document = parseTolerantly(text)
  } catch {
    return { failure: describeSyntaxError(text) }
  }
  return collectRecords(document, rawValue)
}

/** @throws SyntaxError when it is no JSON even with NaN and infinity put aside */
export function parseTolerantly(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return JSON.parse(
      text.replace(stringOrNotANumber, (token) => (token.startsWith('"') ? token : `"\\u0000${token}"`)),
    )
  }
}

/** What a leaf of a document parsed by `parseTolerantly` is. */
export const rawValue = (leaf: unknown): RawValue =>
  typeof leaf === 'string' && leaf.startsWith(marker) ? { notANumber: leaf.slice(1) } : (leaf as RawValue)

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

/** Says where a text stops being JSON. */
export function describeSyntaxError(text: string): string {
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
