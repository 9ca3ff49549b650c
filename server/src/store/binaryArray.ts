/**
 * PostgreSQL's binary form of one-dimensional arrays (`array_recv`): a batch handed over like this costs the database a
 * fraction of what reading the same numbers out of text would.
 */
const headerLength = 20

interface Element {
  readonly oid: number
  readonly length: 1 | 2 | 4 | 8
  readonly write: (buffer: Buffer, value: number, offset: number) => void
}

const int2: Element = {
  oid: 21,
  length: 2,
  write: (buffer, value, offset) => void buffer.writeInt16BE(value, offset),
}
const int4: Element = {
  oid: 23,
  length: 4,
  write: (buffer, value, offset) => void buffer.writeInt32BE(value, offset),
}
const bool: Element = {
  oid: 16,
  length: 1,
  write: (buffer, value, offset) => void buffer.writeUInt8(value, offset),
}
const float8: Element = {
  oid: 701,
  length: 8,
  write: (buffer, value, offset) => void buffer.writeDoubleBE(value, offset),
}

/** PostgreSQL counts microseconds from here. */
const epoch = Date.UTC(2000, 0, 1)
const twoTo32 = 2 ** 32

/** Instants are handed in as epoch ms; their microseconds take more than 32 bits, so they are written in two halves. */
const timestamptz: Element = {
  oid: 1184,
  length: 8,
  write: (buffer, value, offset) => {
    const microseconds = (value - epoch) * 1000
    const high = Math.floor(microseconds / twoTo32)
    buffer.writeInt32BE(high, offset)
    buffer.writeUInt32BE(microseconds - high * twoTo32, offset + 4)
  },
}

function writeHeader(buffer: Buffer, oid: number, count: number): void {
  buffer.writeInt32BE(1, 0) // dimensions
  buffer.writeInt32BE(0, 4) // no nulls
  buffer.writeInt32BE(oid, 8)
  buffer.writeInt32BE(count, 12)
  buffer.writeInt32BE(1, 16) // the first index
}

/** Elements of which some are missing: a length of -1 stands for null. */
function encodeSparse<T>(
  { oid, length, write }: Element,
  items: readonly T[],
  value: (item: T) => number | undefined,
): Buffer {
  const buffer = Buffer.alloc(headerLength + items.length * (4 + length))
  writeHeader(buffer, oid, items.length)
  buffer.writeInt32BE(1, 4) // may hold nulls
  let offset = headerLength
  for (const item of items) {
    const told = value(item)
    buffer.writeInt32BE(told === undefined ? -1 : length, offset)
    offset += 4
    if (told === undefined) continue
    write(buffer, told, offset)
    offset += length
  }
  return buffer.subarray(0, offset)
}

function encode<T>({ oid, length, write }: Element, items: readonly T[], value: (item: T) => number): Buffer {
  const buffer = Buffer.allocUnsafe(headerLength + items.length * (4 + length))
  writeHeader(buffer, oid, items.length)
  let offset = headerLength
  for (const item of items) {
    buffer.writeInt32BE(length, offset)
    write(buffer, value(item), offset + 4)
    offset += 4 + length
  }
  return buffer
}

/** Whole numbers of up to 53 bits, written in two halves like instants. */
const int8: Element = {
  oid: 20,
  length: 8,
  write: (buffer, value, offset) => {
    const high = Math.floor(value / twoTo32)
    buffer.writeInt32BE(high, offset)
    buffer.writeUInt32BE(value - high * twoTo32, offset + 4)
  },
}

const text = 25
const bytea = 17

/** An array of elements that are bytes already; text goes as its UTF-8. */
function encodeBytes(oid: number, elements: readonly Uint8Array[]): Buffer {
  const length = elements.reduce((sum, element) => sum + 4 + element.length, headerLength)
  const buffer = Buffer.allocUnsafe(length)
  writeHeader(buffer, oid, elements.length)
  let offset = headerLength
  for (const element of elements) {
    buffer.writeInt32BE(element.length, offset)
    buffer.set(element, offset + 4)
    offset += 4 + element.length
  }
  return buffer
}

export const textArray = <T>(items: readonly T[], value: (item: T) => string): Buffer =>
  encodeBytes(
    text,
    items.map((item) => Buffer.from(value(item))),
  )
export const byteaArray = <T>(items: readonly T[], value: (item: T) => Uint8Array): Buffer =>
  encodeBytes(bytea, items.map(value))
export const boolArray = <T>(items: readonly T[], value: (item: T) => boolean): Buffer =>
  encode(bool, items, (item) => Number(value(item)))
export const int8Array = <T>(items: readonly T[], value: (item: T) => number): Buffer =>
  encode(int8, items, value)
export const int2Array = <T>(items: readonly T[], value: (item: T) => number): Buffer =>
  encode(int2, items, value)
export const int4Array = <T>(items: readonly T[], value: (item: T) => number): Buffer =>
  encode(int4, items, value)
export const float8Array = <T>(items: readonly T[], value: (item: T) => number): Buffer =>
  encode(float8, items, value)
export const sparseFloat8Array = <T>(items: readonly T[], value: (item: T) => number | undefined): Buffer =>
  encodeSparse(float8, items, value)
/** @param value epoch ms, whole */
export const timestamptzArray = <T>(items: readonly T[], value: (item: T) => number): Buffer =>
  encode(timestamptz, items, value)
