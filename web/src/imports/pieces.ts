import { CsvImport, type CsvPlan, cutSenml, endOfRows } from '@jaunty-sparrow/core'

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
  return plan.mediaType === 'text/csv' ? csvPieces(file, plan) : senmlPieces(file)
}

async function* csvPieces(
  file: Blob,
  { encoding, csv }: Extract<FilePlan, { mediaType: 'text/csv' }>,
): AsyncGenerator<Piece> {
  const decoder = new TextDecoder(encoding)
  const rows = new CsvImport(csv)
  let rest = ''
  let line = 1
  for (let start = 0; start < file.size; start += pieceBytes) {
    const end = start + pieceBytes
    const isLast = end >= file.size
    rest += decoder.decode(await file.slice(start, end).arrayBuffer(), { stream: !isLast })
    const length = isLast ? rest.length : endOfRows(rest)
    const text = rest.slice(0, length)
    rest = rest.slice(length)
    const { csv: sent, lines, refused } = rows.read(text, line, line === 1)
    line += text.split('\n').length - 1
    yield { text: sent, lines, refused, share: Math.min(1, end / file.size) }
  }
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
