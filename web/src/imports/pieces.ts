import { type CsvPlan, csvPieces, cutSenml } from '@jaunty-sparrow/core/file'

/** How a chosen file is to be read. */
export type FilePlan =
  | { readonly mediaType: 'text/csv'; readonly encoding: string; readonly csv: CsvPlan }
  | { readonly mediaType: 'application/senml+json' }

/** A piece of a file, ready to be sent. */
export interface Piece {
  readonly text: string
  /** The line, or with SenML the record, in the file of each row, counted from 1. */
  readonly lines: readonly number[]
  /** What was left out before it was sent. */
  readonly refused: readonly { readonly line: number; readonly reason: string }[]
  /** How much of the file is read so far, 0..1. */
  readonly share: number
}

/** As much of a file as is held at a time, bytes: some 20,000 rows. */
const pieceBytes = 512 * 1024
const recordsPerPiece = 5000

/** A pack has to be read whole before its first record is known. */
export const largestSenml = 64 * 1024 * 1024

/** Reads a file piece by piece, the next one when it is asked for, so that its size does not matter. */
export function readPieces(file: Blob, plan: FilePlan): AsyncGenerator<Piece> {
  return plan.mediaType === 'text/csv' ? csvFile(file, plan) : senmlPieces(file)
}

async function* csvFile(
  file: Blob,
  { encoding, csv }: Extract<FilePlan, { mediaType: 'text/csv' }>,
): AsyncGenerator<Piece> {
  for await (const { csv: text, lines, refused, bytes } of csvPieces(chunksOf(file), encoding, csv))
    yield { text, lines, refused, share: bytes / file.size }
}

async function* chunksOf(file: Blob): AsyncGenerator<Uint8Array> {
  for (let start = 0; start < file.size; start += pieceBytes)
    yield new Uint8Array(await file.slice(start, start + pieceBytes).arrayBuffer())
}

async function* senmlPieces(file: Blob): AsyncGenerator<Piece> {
  const pack: unknown = JSON.parse(await file.text())
  if (!Array.isArray(pack)) throw new Error('A SenML file holds an array of records.')
  let done = 0
  for (const piece of cutSenml(pack, recordsPerPiece)) {
    const first = done + 1
    done += piece.length
    yield {
      text: JSON.stringify(piece),
      lines: piece.map((_, index) => first + index),
      refused: [],
      share: done / pack.length,
    }
  }
}
