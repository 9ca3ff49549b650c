import type { FileReading, ResponseOf, routes } from '@jaunty-sparrow/contract'
import {
  type CsvPlan,
  type CsvSample,
  csvPieces,
  cutSenml,
  EndlessRow,
  encodingOf,
  rowRefusals,
  sampleCsv,
  suggestPlan,
} from '@jaunty-sparrow/core/file'
import { pointerSegment } from '@jaunty-sparrow/core/message'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Outcome } from '../ingest/outcome.ts'

/** What is looked at to find out how a file is written, bytes. */
const sampleBytes = 64 * 1024
/** A pack of SenML has to be read whole before its first record is known. */
const largestSenml = 64 * 1024 * 1024
const recordsPerPiece = 5000
const mostRefusedListed = 100

type Result = ResponseOf<typeof routes.storeFile>

interface WholeFile {
  readonly device: RegisteredDevice
  readonly chunks: AsyncIterable<Uint8Array>
  readonly stated: FileReading
  /** The zone of the site. */
  readonly zone: string
  /** Stores a piece, as the straight way takes it. */
  readonly store: (mediaType: string, text: string) => Promise<Outcome>
}

/**
 * Stores a file as it comes in, piece by piece.
 * @throws ProblemError when it is no file that can be read, or leaves open how it is to be read; nothing was stored then
 */
export async function storeWholeFile({ device, chunks, stated, zone, store }: WholeFile): Promise<Result> {
  const file = new Beginning(chunks)
  const beginning = await file.read(sampleBytes)
  const encoding = stated.encoding ?? encodingOf(beginning)
  const text = new TextDecoder(encoding).decode(beginning, { stream: true })
  if (text.trim() === '') throw new ProblemError('invalid', 'The file is empty.')
  if (text.includes('\0'))
    throw new ProblemError('invalid', 'The file is no text: bring CSV, or SenML in JSON.')
  const sum = new Sum(store)
  if (/^\s*\[/.test(text)) {
    for await (const { text, lines } of senmlPieces(file))
      await sum.add('application/senml+json', text, lines)
    return sum.result({})
  }
  const sample = sampleCsv(text, file.isWhole, stated.delimiter === 'tab' ? '\t' : stated.delimiter)
  if ('failure' in sample) throw new ProblemError('invalid', sample.failure)
  const plan = planOf(sample, device, stated, zone)
  try {
    for await (const { csv, lines, refused } of csvPieces(file, encoding, plan)) {
      sum.refuse(refused)
      if (lines.length > 0) await sum.add('text/csv', csv, lines)
    }
  } catch (error) {
    throw error instanceof EndlessRow ? new ProblemError('invalid', error.message) : error
  }
  return sum.result(readingOf(plan, encoding))
}

/** A stream of which the beginning was looked at before it is read from there. */
class Beginning implements AsyncIterable<Uint8Array> {
  readonly #chunks: AsyncIterator<Uint8Array>
  #beginning: Uint8Array = new Uint8Array()
  isWhole = false

  constructor(chunks: AsyncIterable<Uint8Array>) {
    this.#chunks = chunks[Symbol.asyncIterator]()
  }

  async read(bytes: number): Promise<Uint8Array> {
    while (this.#beginning.length < bytes && !this.isWhole) {
      const next = await this.#chunks.next()
      if (next.done) this.isWhole = true
      else this.#beginning = Buffer.concat([this.#beginning, next.value])
    }
    return this.#beginning
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Uint8Array> {
    yield this.#beginning
    this.#beginning = new Uint8Array()
    for (let next = await this.#chunks.next(); !next.done; next = await this.#chunks.next()) yield next.value
  }
}

/** What is stated counts, the rest is found out. @throws ProblemError where something is left open */
function planOf(sample: CsvSample, device: RegisteredDevice, stated: FileReading, zone: string): CsvPlan {
  const signals = Array.from(device.signals, ({ definition: { field, name } }) => ({ field, name }))
  const { doubtfulTime, ...found } = suggestPlan(sample, signals, stated.zone ?? zone)
  const { columns, timeFormat, order, decimal, point, linesAbove } = stated
  const named = columns?.split(',').map((column) => column.trim())
  const plan: CsvPlan = {
    ...found,
    ...(timeFormat && { timeFormat }),
    ...(order && { order }),
    ...(decimal && { decimal }),
    ...(linesAbove !== undefined && { linesAbove }),
    ...(named && {
      timeColumns: named.flatMap((column, index) => (column === 'time' ? [index] : [])),
      fields: named.map((column) => (column === 'time' || column === '-' ? null : fieldOf(column))),
    }),
    points: found.points.map((found) => (found === 'unclear' && point ? point : found)),
  }
  if (plan.timeColumns.length === 0)
    throw new ProblemError('invalid', 'No column looks like a time: name it with ?columns=time,… .')
  if (doubtfulTime && !timeFormat)
    throw new ProblemError(
      'invalid',
      'Day and month could be the other way round: state ?timeFormat=day-first or month-first.',
    )
  const unclear = plan.points.findIndex((found, column) => found === 'unclear' && plan.fields[column])
  if (unclear >= 0)
    throw new ProblemError(
      'invalid',
      `Decimals have a comma in this file, and nothing tells what a point is in the column "${sample.header[unclear]}": state ?point=thousands or decimals.`,
    )
  return plan
}

const fieldOf = (column: string): string => (column.startsWith('/') ? column : pointerSegment(column))

/** How the file was read, to be stated the next time. */
const readingOf = (
  { fields, timeColumns, timeFormat, zone, order, delimiter, decimal, linesAbove }: CsvPlan,
  encoding: 'utf-8' | 'windows-1252',
): FileReading => ({
  columns: fields.map((field, column) => (timeColumns.includes(column) ? 'time' : (field ?? '-'))).join(),
  timeFormat,
  zone,
  order,
  delimiter: delimiter === '\t' ? 'tab' : delimiter === ';' ? ';' : ',',
  decimal,
  encoding,
  linesAbove,
})

async function* senmlPieces(file: Beginning): AsyncGenerator<{ text: string; lines: number[] }> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of file) {
    size += chunk.length
    if (size > largestSenml)
      throw new ProblemError(
        'too-large',
        `A SenML file may have ${largestSenml / 1024 / 1024} MiB; bring it as CSV.`,
      )
    chunks.push(chunk)
  }
  let pack: unknown
  try {
    pack = JSON.parse(Buffer.concat(chunks).toString('utf8'))
  } catch {
    pack = undefined
  }
  if (!Array.isArray(pack)) throw new ProblemError('not-json', 'A SenML file holds a JSON array of records.')
  let done = 0
  for (const piece of cutSenml(pack, recordsPerPiece)) {
    const first = done + 1
    done += piece.length
    yield { text: JSON.stringify(piece), lines: piece.map((_, index) => first + index) }
  }
}

/** Adds up what comes of the pieces of a file. */
class Sum {
  readonly #store: WholeFile['store']
  #stored = 0
  #alreadyThere = 0
  #refusedTotal = 0
  readonly #refused: { line: number; reason: string }[] = []

  constructor(store: WholeFile['store']) {
    this.#store = store
  }

  async add(mediaType: string, text: string, lines: readonly number[]): Promise<void> {
    const outcome = await this.#store(mediaType, text)
    if (outcome.kind === 'stored') {
      this.#stored += outcome.fresh
      this.#alreadyThere += outcome.stored - outcome.fresh
    } else if (outcome.kind !== 'refused' || outcome.refused.length === 0)
      throw new ProblemError(
        'invalid',
        outcome.kind === 'refused' ? outcome.detail : 'A piece of the file was not taken.',
      )
    this.refuse(rowRefusals(outcome.refused, lines))
  }

  refuse(refused: readonly { readonly line: number; readonly reason: string }[]): void {
    this.#refusedTotal += refused.length
    this.#refused.push(...refused.slice(0, mostRefusedListed - this.#refused.length))
  }

  result(reading: FileReading): Result {
    return {
      stored: this.#stored,
      alreadyThere: this.#alreadyThere,
      refused: this.#refused,
      refusedTotal: this.#refusedTotal,
      reading,
    }
  }
}
