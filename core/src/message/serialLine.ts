import { pairsMediaType } from './decodePairs.ts'
import type { Message } from './message.ts'

const text = new TextDecoder()

/**
 * Makes a message of a line a board printed: JSON, `key=value` pairs, or else CSV with the header that was set.
 * @param csvHeader names for the values of a line, such as `t,temperature`; null when none was set
 * @returns undefined for an empty line
 */
export function messageOfLine(line: Uint8Array, csvHeader: string | null): Message | undefined {
  const said = text.decode(line).trim()
  if (said === '') return undefined
  if (said.startsWith('{')) return { mediaType: 'application/json', body: line }
  // An array may be a pack of SenML, which is found out when it is read.
  if (said.startsWith('[')) return { mediaType: '', body: line }
  if (csvHeader !== null)
    return { mediaType: 'text/csv', body: new TextEncoder().encode(`${csvHeader}\n${said}`) }
  return { mediaType: pairsMediaType, body: line }
}

/** Fewer bytes than this tell nothing of the speed. */
const enoughBytes = 24
const mostUnprintable = 0.3

/** Whether bytes look like those of a line that is read at the wrong speed: most of them cannot be printed. */
export function looksGarbled(bytes: Uint8Array): boolean {
  if (bytes.length < enoughBytes) return false
  let unprintable = 0
  for (const byte of bytes)
    if ((byte < 32 && byte !== 9 && byte !== 10 && byte !== 13) || byte > 126) unprintable++
  return unprintable > bytes.length * mostUnprintable
}
