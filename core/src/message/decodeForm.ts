import type { Decoder } from './decodeFailure.ts'
import { type Field, pointerSegment, type RawValue } from './field.ts'
import { readText } from './textValue.ts'

/** Reads `application/x-www-form-urlencoded`: one record, each name a field, `t` its time. */
export const decodeForm: Decoder<string> = (text) => {
  if (/^\s*[{[]/.test(text)) {
    return {
      failure:
        'The body looks like JSON, but its content type says it is a form: add the header "Content-Type: application/json".',
    }
  }
  const fields: Field[] = []
  let time: RawValue | undefined
  for (const [name, value] of new URLSearchParams(text.trim())) {
    if (name === 't') time = readText(value)
    else if (name !== '') fields.push({ pointer: pointerSegment(name), value: readText(value) })
  }
  return [time === undefined ? { fields } : { time, fields }]
}
