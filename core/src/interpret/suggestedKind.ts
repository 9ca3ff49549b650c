import type { RawValue } from '../message/field.ts'
import { readText } from '../message/textValue.ts'
import type { SignalKind } from '../signal/signalKind.ts'
import { convert } from './convert.ts'

const plain = { choices: [], conversion: null, faults: [] }

/** Of texts, those suggest a signal that say something in short: what is longer is likelier a mistake. */
const longestSuggestedText = 120

/** What kind of signal a value looks like, or why it looks like none. */
export function suggestedKind(value: RawValue): { readonly kind: SignalKind } | { readonly problem: string } {
  const kind = kindOf(value)
  const converted = convert(value, { kind, ...plain })
  if ('problem' in converted) return converted
  if (kind !== 'text') return { kind }
  const { length } = String(value).trim()
  if (length === 0) return { problem: 'it is empty' }
  return length > longestSuggestedText
    ? { problem: `its text is longer than ${longestSuggestedText} characters` }
    : { kind }
}

function kindOf(value: RawValue): SignalKind {
  if (typeof value === 'boolean') return 'switch'
  if (typeof value === 'object' && value !== null && 'lat' in value) return 'position'
  // What is written like a number that is none, or that does not fit, is one that went wrong.
  return typeof value === 'string' && typeof readText(value) === 'string' ? 'text' : 'number'
}
