import type { Decoder } from './decodeFailure.ts'
import { readText } from './textValue.ts'

/** Reads a body that is one bare value; its field is named by where it was sent to. */
export const decodePlain: Decoder<string> = (text) =>
  text.trim() === ''
    ? { failure: 'The body is empty; send a bare value, like 21.5.' }
    : [{ fields: [{ pointer: '', value: readText(text) }] }]
