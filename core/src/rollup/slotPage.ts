import type { Slot } from './aggregate.ts'
import { type Bucket, outlineOf } from './bucket.ts'
import { ByteReader } from './byteReader.ts'
import { ByteWriter } from './byteWriter.ts'
import { readNumbers, writeNumbers } from './numberColumn.ts'

/** How a page is written; one that was written otherwise is not read. */
const version = 1

const moments = ['firstAt', 'lowestAt', 'highestAt', 'lastAt'] as const
const values = ['first', 'lowest', 'highest', 'last', 'mean', 'm2', 'squaredDifferences'] as const

/**
 * Writes the buckets of a page: what belongs to one column after the other, so that neighbours differ little.
 * @param slots by the number of the bucket since the epoch
 * @param length of a bucket, ms
 */
export function writeSlots(slots: ReadonlyMap<number, Slot>, length: number): Uint8Array {
  const writer = new ByteWriter()
  const sorted = [...slots].sort(([a], [b]) => a - b)
  writer.count(version)
  writer.count(sorted.length)
  let before = 0
  for (const [number] of sorted) {
    writer.whole(number - before)
    before = number
  }
  for (const [, { voids }] of sorted) writer.count(voids)
  for (const [, { bucket }] of sorted) writer.count(bucket?.count ?? 0)
  const filled = sorted.flatMap(([number, { bucket }]) =>
    bucket ? [{ start: number * length, bucket }] : [],
  )
  for (const name of moments) for (const { start, bucket } of filled) writer.count(bucket[name] - start)
  for (const { bucket } of filled) writer.count(bucket.longestGap)
  for (const name of values)
    writeNumbers(
      writer,
      filled.map(({ bucket }) => bucket[name]),
    )
  for (const { bucket } of filled) writeStates(writer, bucket)
  return writer.finish()
}

function writeStates(writer: ByteWriter, { states }: Bucket): void {
  // One more than there are: nothing said of states is not the same as no time spent in any.
  writer.count(states ? states.lasted.size + 1 : 0)
  if (!states) return
  writer.count(states.changes)
  for (const [code, ms] of states.lasted) {
    writer.whole(code)
    writer.count(ms)
  }
}

/** What a picture needs of a bucket: see `outline`, whose points these are. */
export interface BucketOutline {
  /** Of the bucket, since the epoch. */
  readonly number: number
  readonly points: readonly (readonly [at: number, value: number])[]
}

/** Reads of what `writeSlots` wrote only what a picture needs, which comes first. @throws Error where another version wrote it */
export function readOutlines(page: Uint8Array, length: number): BucketOutline[] {
  const { filled, firstAt, lowestAt, highestAt, lastAt, first, lowest, highest, last } = readFront(
    new ByteReader(page),
    length,
  )
  return filled.map((number, place) => {
    const at = (column: readonly number[]): number => column[place] as number
    return {
      number,
      points: outlineOf(
        [at(firstAt), at(first)],
        [at(lowestAt), at(lowest)],
        [at(highestAt), at(highest)],
        [at(lastAt), at(last)],
      ),
    }
  })
}

/** Reads what `writeSlots` wrote. @throws Error where it was written by another version */
export function readSlots(page: Uint8Array, length: number): Map<number, Slot> {
  const reader = new ByteReader(page)
  const { numbers, voids, counts, filled, ...front } = readFront(reader, length)
  const [mean, m2, squaredDifferences] = [1, 2, 3].map(() => readNumbers(reader, filled.length))
  const slots = new Map<number, Slot>()
  let place = 0
  for (const [index, number] of numbers.entries()) {
    const count = counts[index] ?? 0
    const at = (column: readonly number[] | undefined): number => column?.[place] as number
    const states = count > 0 ? readStates(reader) : undefined
    const bucket: Bucket | undefined =
      count === 0
        ? undefined
        : {
            count,
            mean: at(mean),
            m2: at(m2),
            first: at(front.first),
            firstAt: at(front.firstAt),
            last: at(front.last),
            lastAt: at(front.lastAt),
            lowest: at(front.lowest),
            lowestAt: at(front.lowestAt),
            highest: at(front.highest),
            highestAt: at(front.highestAt),
            squaredDifferences: at(squaredDifferences),
            longestGap: at(front.longestGap),
            ...(states && { states }),
          }
    if (bucket) place++
    slots.set(number, { bucket, voids: voids[index] ?? 0 })
  }
  return slots
}

/** What comes first on a page, column by column: of all buckets, and then of those that are not empty. */
function readFront(reader: ByteReader, length: number) {
  const found = reader.count()
  if (found !== version) throw new Error(`a page of buckets was written in version ${found}, not ${version}`)
  const times = reader.count()
  const numbers: number[] = []
  const voids: number[] = []
  const counts: number[] = []
  let number = 0
  for (let n = 0; n < times; n++) {
    number += reader.whole()
    numbers.push(number)
  }
  for (let n = 0; n < times; n++) voids.push(reader.count())
  for (let n = 0; n < times; n++) counts.push(reader.count())
  const filled = numbers.filter((_, index) => counts[index] !== 0)
  const moment = () => filled.map((each) => each * length + reader.count())
  const value = () => readNumbers(reader, filled.length)
  // In the order in which they are written.
  return {
    numbers,
    voids,
    counts,
    filled,
    firstAt: moment(),
    lowestAt: moment(),
    highestAt: moment(),
    lastAt: moment(),
    longestGap: filled.map(() => reader.count()),
    first: value(),
    lowest: value(),
    highest: value(),
    last: value(),
  }
}

function readStates(reader: ByteReader): Bucket['states'] {
  const entries = reader.count()
  if (entries === 0) return undefined
  const changes = reader.count()
  const lasted = new Map<number, number>()
  for (let n = 1; n < entries; n++) {
    const code = reader.whole()
    lasted.set(code, reader.count())
  }
  return { changes, lasted }
}
