import { type DecodeOptions, decode } from 'cborg'
import { collectRecords } from './collectFields.ts'
import type { Decoder } from './decodeFailure.ts'
import type { RawValue } from './field.ts'
import { isExact } from './textValue.ts'

const asItStands = (content: unknown): unknown => content

const bytesToInteger = (bytes: unknown): bigint =>
  bytes instanceof Uint8Array
    ? bytes.reduce((sum, byte) => sum * 256n + BigInt(byte), 0n)
    : BigInt(Number(bytes))

/** A number of more bytes than this is none that was measured, and adding it up would cost its square. */
const longestInteger = 64

/** What tags mean (RFC 8949, section 3.4): times, big numbers, decimal fractions, and the mark of CBOR itself. */
const tags: ((content: unknown) => unknown)[] = []
tags[0] = asItStands
tags[1] = asItStands
tags[2] = (bytes) => (isShort(bytes) ? bytesToInteger(bytes) : Number.POSITIVE_INFINITY)
tags[3] = (bytes) => (isShort(bytes) ? -1n - bytesToInteger(bytes) : Number.NEGATIVE_INFINITY)
tags[4] = (parts) => {
  const [exponent, mantissa] = Array.isArray(parts) ? parts : []
  return Number(`${mantissa}e${exponent}`)
}
tags[55799] = asItStands

const isShort = (bytes: unknown): boolean => bytes instanceof Uint8Array && bytes.length <= longestInteger

// Maps, since an object takes a member called __proto__ for something else.
const options: DecodeOptions = { tags, useMaps: true }

/** @throws Error in words for whoever sent it */
export function parseCbor(bytes: Uint8Array): unknown {
  try {
    return decode(bytes, options)
  } catch (error) {
    // It calls itself for each level.
    const reason =
      error instanceof RangeError
        ? 'it is nested too deep'
        : String(error instanceof Error ? error.message : error).replace(/^CBOR decode error:? ?/i, '')
    throw new Error(`The body is not CBOR: ${reason}.`)
  }
}

/** Reads CBOR (RFC 8949) that is shaped like a JSON message: a map, or an array of maps. */
export const decodeCbor: Decoder<Uint8Array> = (bytes) => {
  try {
    return collectRecords(parseCbor(bytes), cborValue)
  } catch (error) {
    return { failure: (error as Error).message }
  }
}

/** What a leaf is: CBOR has numbers that are none, big numbers and bytes besides what JSON has. */
export function cborValue(leaf: unknown): RawValue {
  if (typeof leaf === 'number' && !Number.isFinite(leaf)) return { notANumber: String(leaf) }
  if (typeof leaf === 'bigint') {
    const digits = String(leaf)
    return isExact(digits, Number(leaf)) ? Number(leaf) : { tooManyDigits: digits }
  }
  if (typeof leaf === 'number' || typeof leaf === 'boolean' || typeof leaf === 'string' || leaf === null)
    return leaf
  return leaf === undefined ? null : 'bytes'
}
