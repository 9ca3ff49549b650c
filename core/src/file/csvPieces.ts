import { CsvImport, type CsvPlan, type ImportedRows } from './csvImport.ts'
import { endOfRows } from './csvSample.ts'

/** Some rows of a file, ready to be sent. */
export interface CsvPiece extends ImportedRows {
  /** How much of the file is read so far, bytes. */
  readonly bytes: number
}

/** A row that has no end within what is held at a time. */
export class EndlessRow extends Error {}

/** A cell that does not end would gather the whole file. */
const longestRow = 4 * 1024 * 1024

/**
 * Reads a file piece by piece, each of whole rows, the next one when it is asked for, so that its size does not matter.
 * @param chunks of the file, as they come
 * @throws EndlessRow in words when a row does not end
 */
export async function* csvPieces(
  chunks: AsyncIterable<Uint8Array>,
  encoding: string,
  plan: CsvPlan,
): AsyncGenerator<CsvPiece> {
  const decoder = new TextDecoder(encoding)
  const rows = new CsvImport(plan)
  let rest = ''
  let line = 1
  let bytes = 0
  let holdsHeader = true
  const take = (length: number): CsvPiece => {
    const text = rest.slice(0, length)
    rest = rest.slice(length)
    const read = rows.read(text, line, holdsHeader)
    holdsHeader = false
    line += text.split('\n').length - 1
    return { ...read, bytes }
  }
  const coming = chunks[Symbol.asyncIterator]()
  let next = await coming.next()
  while (!next.done) {
    const chunk = next.value
    next = await coming.next()
    bytes += chunk.length
    rest += decoder.decode(chunk, { stream: !next.done })
    // The last row may do without a line break.
    const length = next.done ? rest.length : endOfRows(rest)
    if (length > 0) yield take(length)
    else if (rest.length > longestRow)
      throw new EndlessRow(`The row that begins in line ${line} does not end; is a quote missing?`)
  }
}

/** The encoding of a file, by its beginning: UTF-8, or else what older programs wrote. */
export function encodingOf(beginning: Uint8Array): 'utf-8' | 'windows-1252' {
  try {
    // A letter that the end of the beginning cuts in two is no reason to doubt.
    new TextDecoder('utf-8', { fatal: true }).decode(beginning, { stream: true })
    return 'utf-8'
  } catch {
    return 'windows-1252'
  }
}
