import { dsvFormat } from 'd3-dsv'

/** The beginning of a CSV file, taken apart. */
export interface CsvSample {
  readonly delimiter: string
  /** How many lines stand above the names of the columns, as loggers write of themselves there. */
  readonly linesAbove: number
  readonly header: readonly string[]
  readonly rows: readonly (readonly string[])[]
}

/** A row of CSV, and the line it begins in: a quoted cell may hold line breaks. */
export interface CsvRow {
  readonly line: number
  readonly cells: readonly string[]
}

/**
 * Takes CSV apart (RFC 4180), empty rows left out.
 * @param firstLine the line in its file that the text begins with, counted from 1
 */
export function csvRows(text: string, delimiter: string, firstLine = 1): CsvRow[] {
  const rows: CsvRow[] = []
  let line = firstLine
  for (const cells of dsvFormat(delimiter).parseRows(text.replace(/^\uFEFF/, ''))) {
    if (cells.some((cell) => cell.trim() !== '')) rows.push({ line, cells })
    line++
    for (const cell of cells) if (cell.includes('\n')) line += cell.split('\n').length - 1
  }
  return rows
}

/** Takes the beginning of a file apart; its last line may be cut off, and is left out then. */
export function sampleCsv(
  text: string,
  isWhole: boolean,
  delimiter = delimiterOfFile(text),
): CsvSample | { readonly failure: string } {
  const all = csvRows(text, delimiter)
  const rows = isWhole ? all : all.slice(0, -1)
  const top = headerOf(rows)
  const header = rows[top]
  const rest = rows.slice(top + 1)
  if (!header || rest.length === 0)
    return {
      failure: 'The file holds no rows: it needs a line with the names of its columns, and rows below.',
    }
  return {
    delimiter,
    linesAbove: header.line - 1,
    header: header.cells.map((name) => name.trim()),
    rows: rest.map(({ cells }) => cells),
  }
}

/** The names of the columns are in the first row that is as wide as most are. */
function headerOf(rows: readonly CsvRow[]): number {
  const width = mostFrequent(rows.map(({ cells }) => cells.length))
  return Math.max(
    0,
    rows.findIndex(({ cells }) => cells.length === width),
  )
}

const linesLookedAt = 50

/** The delimiter of which most lines have as many; a decimal comma is in each row, but not in the line of names. */
function delimiterOfFile(text: string): string {
  const lines = text.slice(0, 65_536).split(/\r?\n/, linesLookedAt)
  let best = { delimiter: ',', lines: 0 }
  for (const delimiter of [';', '\t', ',']) {
    const counts = lines.map((line) => line.split(delimiter).length - 1).filter((count) => count > 0)
    const usual = mostFrequent(counts)
    const found = counts.filter((count) => count === usual).length
    if (found > best.lines) best = { delimiter, lines: found }
  }
  return best.delimiter
}

function mostFrequent(numbers: readonly number[]): number | undefined {
  const counts = new Map<number, number>()
  for (const number of numbers) counts.set(number, (counts.get(number) ?? 0) + 1)
  let best: number | undefined
  for (const [number, count] of counts)
    if (best === undefined || count > (counts.get(best) ?? 0)) best = number
  return best
}

/**
 * Cuts a text where a row of CSV ends: after the last line break that is not inside quotes.
 * @returns how many characters belong to whole rows
 */
export function endOfRows(text: string): number {
  let end = 0
  let inQuotes = false
  for (let index = 0; index < text.length; index++) {
    const letter = text[index]
    if (letter === '"') inQuotes = !inQuotes
    else if (letter === '\n' && !inQuotes) end = index + 1
  }
  return end
}
