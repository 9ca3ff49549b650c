import { type DecodeOptions, decode } from 'cborg'
import { collectRecords } from './collectFields.ts'
import type { Decoder } from './decodeFailure.ts'
import type { RawValue } from './field.ts'

/** Decimal fractions (RFC 8949, section 3.4.4), in which some sensors write exact numbers. */
const decimalFraction: ((parts: unknown) => unknown)[] = []
decimalFraction[4] = (parts) => {
  const [exponent, mantissa] = Array.isArray(parts) ? parts : []
  return Number(`${mantissa}e${exponent}`)
}

export const cborOptions: DecodeOptions = { tags: decimalFraction }

/** Reads CBOR (RFC 8949) that is shaped like a JSON message: a map with text keys, or an array of such maps. */
export const decodeCbor: Decoder<Uint8Array> = (bytes) => {
  let document: unknown
  try {
    document = decode(bytes, cborOptions)
  } catch (error) {
    return { failure: describeCborError(error) }
  }
  return collectRecords(document, cborValue)
}

export const describeCborError = (error: unknown): string =>
  `The body is not CBOR: ${error instanceof Error ? error.message.replace(/^CBOR decode error:? ?/i, '') : String(error)}.`

/** What a leaf is: CBOR has numbers that are none, big numbers and bytes besides what JSON has. */
export function cborValue(leaf: unknown): RawValue {
  if (typeof leaf === 'number' && !Number.isFinite(leaf)) return { notANumber: String(leaf) }
  if (typeof leaf === 'bigint') return Number(leaf)
  if (typeof leaf === 'number' || typeof leaf === 'boolean' || typeof leaf === 'string' || leaf === null)
    return leaf
  return leaf === undefined ? null : 'bytes'
}
