import { type ParseErrorCode, printParseErrorCode, visit } from 'jsonc-parser'
import { collectRecords } from './collectFields.ts'
import type { Decoder } from './decodeFailure.ts'
import type { RawValue } from './field.ts'
import { isExact } from './textValue.ts'

/** No string of a valid document starts with this character unescaped, so it can mark what we put in ourselves. */
const marker = '\u0000'

/** A string that does not end is taken to the end of the text, so that nothing is looked at twice. */
const stringOrNotANumber = /"[^"\\]*(?:\\[\s\S][^"\\]*)*(?:"|\\?$)|-?\b(?:nan|inf(?:inity)?|ovf)\b/gi

/** Whole numbers of so many digits may be more than a double holds; what is part of another number is left aside. */
const longWholeNumber = /(?<![\d.])-?\d{16,}(?![\d.eE])/g

/**
 * Reads a JSON body into records of fields: an object is one record, an array of objects a backlog of several.
 * The member `t` of a record is its time. Bare `NaN`, `inf` and `ovf`, which microcontrollers print, do not spoil the rest:
 * they become fields that are refused by themselves.
 */
export const decodeJson: Decoder<string> = (text) => {
  let document: unknown
  try {
    document = parseTolerantly(text)
  } catch {
    return { failure: describeSyntaxError(text) }
  }
  return collectRecords(document, rawValueIn(text))
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

/** Nearly no message has so many digits, which is told sooner than where they stand. */
const longDigits = /\d{16}/
const none: ReadonlyMap<number, string> = new Map()

function roundedIn(text: string): ReadonlyMap<number, string> {
  const rounded = new Map<number, string>()
  for (const [digits] of text.matchAll(longWholeNumber))
    if (!isExact(digits, Number(digits))) rounded.set(Number(digits), digits)
  return rounded
}

/** What a leaf is of a document that `parseTolerantly` found in a text. */
export function rawValueIn(text: string): (leaf: unknown) => RawValue {
  const rounded = longDigits.test(text) ? roundedIn(text) : none
  return (leaf) => {
    if (typeof leaf === 'string' && leaf.startsWith(marker)) return { notANumber: leaf.slice(1) }
    const digits = rounded.size > 0 && typeof leaf === 'number' ? rounded.get(leaf) : undefined
    return digits === undefined ? (leaf as RawValue) : { tooManyDigits: digits }
  }
}

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
  if (bracketDepth(text) > deepestExplained) return 'The body is not JSON: its brackets are nested too deep.'
  const first = firstSyntaxError(text)
  if (!first) return 'The body is not JSON.'
  const before = text.slice(0, first.offset)
  const line = before.split('\n').length
  const column = first.offset - before.lastIndexOf('\n')
  const code = printParseErrorCode(first.code)
  const near = text.slice(Math.max(0, first.offset - 12), first.offset + 12).replace(/\s+/g, ' ')
  return `The body is not JSON: ${explanations[code] ?? code} at line ${line}, column ${column}, near \`${near}\`.`
}

/** What looks for the error calls itself for each bracket it enters. */
const deepestExplained = 500

/** How many brackets are open at once at most, strings put aside. */
function bracketDepth(text: string): number {
  let depth = 0
  let deepest = 0
  for (const [token] of text.matchAll(/"[^"\\]*(?:\\[\s\S][^"\\]*)*(?:"|\\?$)|[[{]|[\]}]/g)) {
    if (token === '[' || token === '{') deepest = Math.max(deepest, ++depth)
    else if (token === ']' || token === '}') depth--
  }
  return deepest
}

class Found extends Error {
  readonly code: ParseErrorCode
  readonly offset: number

  constructor(code: ParseErrorCode, offset: number) {
    super()
    this.code = code
    this.offset = offset
  }
}

function firstSyntaxError(text: string): Found | undefined {
  try {
    const onError = (code: ParseErrorCode, offset: number) => {
      throw new Found(code, offset)
    }
    visit(text, { onError }, { disallowComments: true, allowTrailingComma: false })
    return undefined
  } catch (error) {
    if (error instanceof Found) return error
    throw error
  }
}
