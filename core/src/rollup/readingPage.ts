import type { QualityBits } from '../signal/reading.ts'
import { ByteReader } from './byteReader.ts'
import { ByteWriter } from './byteWriter.ts'
import { readNumbers, writeNumbers } from './numberColumn.ts'

/** All there is of a reading of a number, switch or choice, but whose it is. Instants are epoch ms. */
export interface PackedReading {
  readonly at: number
  readonly receivedAt: number
  readonly value: number
  /** What was sent, where a conversion made the value of it. */
  readonly raw?: number
  readonly quality: QualityBits
}

/** How a page is written; one that was written otherwise is not read. */
const version = 1

/**
 * Packs readings, column by column: what comes at a steady pace takes next to nothing for its times. Each comes back exactly as
 * it was.
 * @param readings of one signal, in order of time
 */
export function writeReadings(readings: readonly PackedReading[]): Uint8Array {
  const writer = new ByteWriter()
  writer.count(version)
  writer.count(readings.length)
  writeSteady(
    writer,
    readings.map(({ at }) => at),
  )
  writeSteady(
    writer,
    readings.map(({ at, receivedAt }) => receivedAt - at),
  )
  writeRuns(
    writer,
    readings.map(({ quality }) => quality),
  )
  writeRuns(
    writer,
    readings.map(({ raw }) => Number(raw !== undefined)),
  )
  writeNumbers(
    writer,
    readings.map(({ value }) => value),
  )
  writeNumbers(
    writer,
    readings.flatMap(({ raw }) => raw ?? []),
  )
  return writer.finish()
}

/** Reads what `writeReadings` wrote. @throws Error where it was written by another version */
export function readReadings(page: Uint8Array): PackedReading[] {
  const reader = new ByteReader(page)
  const found = reader.count()
  if (found !== version) throw new Error(`a page of readings was written in version ${found}, not ${version}`)
  const count = reader.count()
  const times = readSteady(reader, count)
  const lags = readSteady(reader, count)
  const qualities = readRuns(reader, count)
  const hasRaw = readRuns(reader, count)
  const values = readNumbers(reader, count)
  const raws = readNumbers(reader, hasRaw.filter((flag) => flag === 1).length)
  let place = 0
  return times.map((at, index) => {
    const reading = {
      at,
      receivedAt: at + (lags[index] ?? 0),
      value: values[index] ?? Number.NaN,
      quality: qualities[index] ?? 0,
    }
    const raw = hasRaw[index] === 1 ? raws[place++] : undefined
    return raw === undefined ? reading : { ...reading, raw }
  })
}

/** Whole numbers that grow at a steady pace: only what the pace changes by is written. */
function writeSteady(writer: ByteWriter, numbers: readonly number[]): void {
  let before = 0
  let pace = 0
  for (const number of numbers) {
    writer.whole(number - before - pace)
    pace = number - before
    before = number
  }
}

function readSteady(reader: ByteReader, count: number): number[] {
  const numbers: number[] = []
  let before = 0
  let pace = 0
  for (let n = 0; n < count; n++) {
    pace += reader.whole()
    before += pace
    numbers.push(before)
  }
  return numbers
}

/** Small numbers that mostly stay what they are: how often each comes, until it changes. */
function writeRuns(writer: ByteWriter, numbers: readonly number[]): void {
  for (let start = 0; start < numbers.length; ) {
    let end = start
    while (end < numbers.length && numbers[end] === numbers[start]) end++
    writer.count(end - start)
    writer.count(numbers[start] ?? 0)
    start = end
  }
}

function readRuns(reader: ByteReader, count: number): number[] {
  const numbers: number[] = []
  while (numbers.length < count) {
    const times = reader.count()
    const number = reader.count()
    if (times === 0 || times > count - numbers.length) throw new Error('a page of readings is damaged')
    for (let n = 0; n < times; n++) numbers.push(number)
  }
  return numbers
}
