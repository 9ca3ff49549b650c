import { parseCbor } from './decodeCbor.ts'
import { delimiterOf } from './decodeCsv.ts'
import { parseTolerantly } from './decodeJson.ts'
import { pairsMediaType } from './decodePairs.ts'
import { isSenmlCbor, isSenmlJson } from './decodeSenml.ts'
import { readText } from './textValue.ts'

const text = new TextDecoder()

/** A name, an equals sign, and something behind it. */
const beginsWithPair = /^[^\s,;=&]{1,200}\s{0,9}=\s{0,9}[^\s=]/

/**
 * Tells what a body is for doors that do not say, such as MQTT 3.1.1. An array of records is SenML only if it is a valid pack.
 * @param tail where below its address it was sent to: there a bare value is usual
 */
export function guessMediaType(body: Uint8Array, tail = ''): string {
  const first = body[0] ?? 0
  // CBOR's arrays, maps and its own mark begin with bytes that no UTF-8 text begins with.
  if ((first >= 0x80 && first <= 0xbf) || (first === 0xd9 && body[1] === 0xd9))
    return isPackIn(() => isSenmlCbor(parseCbor(body))) ? 'application/senml+cbor' : 'application/cbor'
  if (beginsWithBrace(body)) return 'application/json'
  const said = text.decode(body).trim()
  if (said.startsWith('['))
    return isPackIn(() => isSenmlJson(parseTolerantly(said))) ? 'application/senml+json' : 'application/json'
  if (tail === '' && looksLikeCsv(said)) return 'text/csv'
  if (!beginsWithPair.test(said)) return 'text/plain'
  return said.includes('&') && !/\s/.test(said) ? 'application/x-www-form-urlencoded' : pairsMediaType
}

/** Nearly every message does, and need not be looked at any further. */
function beginsWithBrace(body: Uint8Array): boolean {
  let index = body[0] === 0xef && body[1] === 0xbb && body[2] === 0xbf ? 3 : 0
  while ((body[index] ?? 0xff) <= 0x20) index++
  return body[index] === 0x7b
}

/** What cannot be parsed is no pack; its decoder says what is wrong. */
function isPackIn(find: () => boolean): boolean {
  try {
    return find()
  } catch {
    return false
  }
}

/** Whether a line of names stands above one of values. */
function looksLikeCsv(said: string): boolean {
  const [header = '', row = ''] = said.split(/\r?\n/, 2)
  if (row.trim() === '' || header.includes('=')) return false
  const delimiter = delimiterOf(header)
  const names = header.split(delimiter)
  return (
    row.split(delimiter).length <= names.length &&
    names.every((name) => name.trim() !== '' && typeof readText(name) === 'string')
  )
}
