import { dsvFormat } from 'd3-dsv'
import { delimiterOf } from './decodeCsv.ts'
import { pointerSegment, pointerSegments } from './field.ts'
import { detectTimeFormat, readFileTime, type TimeFormat } from './fileTime.ts'
import { LocalClock } from './localClock.ts'
import { readText } from './textValue.ts'

/** The beginning of a CSV file, taken apart. */
export interface CsvSample {
  readonly delimiter: string
  readonly header: readonly string[]
  readonly rows: readonly (readonly string[])[]
}

/** How a CSV file is to be read. */
export interface CsvPlan {
  readonly delimiter: string
  readonly decimal: '.' | ','
  /** The columns that tell the time together: one, or a date and a time of day. */
  readonly timeColumns: readonly number[]
  readonly timeFormat: TimeFormat
  /** IANA name of the zone in which the clock hung, for formats that leave it open. */
  readonly zone: string
  /** The field each column is, as a JSON Pointer; null for what is left out. */
  readonly fields: readonly (string | null)[]
}

/** A plan that was found by looking at the sample, with what a person should look at. */
export interface SuggestedPlan extends CsvPlan {
  /** Day and month could as well be the other way round. */
  readonly doubtfulTime: boolean
}

/** What rows become: CSV with a column `t` and fields named by pointers, or why a line is left out. */
export interface ImportedRows {
  readonly csv: string
  /** The line in the file of each row of the CSV. */
  readonly lines: readonly number[]
  readonly refused: readonly { readonly line: number; readonly reason: string }[]
}

/** Takes the beginning of a file apart; its last line may be cut off, and is left out then. */
export function sampleCsv(text: string, isWhole: boolean): CsvSample | { readonly failure: string } {
  const delimiter = delimiterOf(text)
  const all = dsvFormat(delimiter).parseRows(text.replace(/^\uFEFF/, ''))
  const rows = (isWhole ? all : all.slice(0, -1)).filter(isFilled)
  const [header, ...rest] = rows
  if (!header || rest.length === 0)
    return {
      failure: 'The file holds no rows: it needs a line with the names of its columns, and rows below.',
    }
  return { delimiter, header: header.map((name) => name.trim()), rows: rest }
}

const isFilled = (row: readonly string[]): boolean => row.some((cell) => cell.trim() !== '')

const timeOfDay = /^\d{1,2}:\d{2}(:\d{2})?/

/**
 * Finds out how a file is to be read: which columns are the time, and which signal each other column is.
 * @param signals the signals of the device, by field and name
 * @param zone where the file is taken to come from
 */
export function suggestPlan(
  { delimiter, header, rows }: CsvSample,
  signals: readonly { readonly field: string; readonly name: string }[],
  zone: string,
): SuggestedPlan {
  const cells = (column: number) => rows.map((row) => row[column]?.trim() ?? '').filter((cell) => cell !== '')
  const time = findTime(header, cells)
  const decimal =
    delimiter !== ',' && header.some((_, column) => cells(column).some((cell) => /^-?\d+,\d+$/.test(cell)))
      ? ','
      : '.'
  const taken = new Set<string>()
  const fields = header.map((name, column) => {
    if (time?.columns.includes(column)) return null
    const holdsValues = cells(column).some((cell) => typeof readCell(cell, decimal) !== 'string')
    const field = signals.find((signal) => isNamed(signal, name))?.field ?? pointerSegment(name)
    if (!holdsValues || name === '' || taken.has(field)) return null
    taken.add(field)
    return field
  })
  return {
    delimiter,
    decimal,
    timeColumns: time?.columns ?? [],
    timeFormat: time?.format ?? 'year-first',
    doubtfulTime: time?.doubtful ?? false,
    zone,
    fields,
  }
}

const plain = (name: string): string => name.toLowerCase().replaceAll(/[^\p{L}\p{N}]/gu, '')

/** A column is named like a signal, its field, or either with a unit behind. */
function isNamed({ field, name }: { field: string; name: string }, column: string): boolean {
  const bare = plain(column.replace(/[([].*$/, ''))
  return [name, pointerSegments(field).join(''), field].some((candidate) => plain(candidate) === bare)
}

function findTime(
  header: readonly string[],
  cells: (column: number) => readonly string[],
): { columns: number[]; format: TimeFormat; doubtful: boolean } | undefined {
  for (const column of header.keys()) {
    const found = detectTimeFormat(cells(column))
    if (!found) continue
    const next = cells(column + 1)
    const split = next.length > 0 && next.every((cell) => timeOfDay.test(cell))
    const dateOnly = cells(column).every((cell) => !cell.includes(':'))
    return { columns: split && dateOnly ? [column, column + 1] : [column], ...found }
  }
  return undefined
}

const readCell = (cell: string, decimal: '.' | ',') =>
  readText(decimal === ',' && /^[-+]?\d*,\d+$/.test(cell.trim()) ? cell.replace(',', '.') : cell)

/** What the columns of a row that tell the time say together. */
export const timeText = (row: readonly string[], timeColumns: readonly number[]): string =>
  timeColumns.map((column) => row[column]?.trim() ?? '').join(' ')

/** Reads the rows of a file by its plan, some at a time, in their order. */
export class CsvImport {
  readonly #plan: CsvPlan
  readonly #wall: LocalClock
  readonly #header: string

  constructor(plan: CsvPlan) {
    this.#plan = plan
    this.#wall = new LocalClock(plan.zone)
    const fields = plan.fields.filter((field) => field !== null)
    this.#header = ['t', ...fields].map(quoted).join()
  }

  /**
   * @param firstLine the line in the file of the first row, counted from 1
   * @param holdsHeader whether the first filled row names the columns
   */
  read(text: string, firstLine: number, holdsHeader = false): ImportedRows {
    const { delimiter, fields, timeColumns, timeFormat, decimal } = this.#plan
    const csv = [this.#header]
    const lines: number[] = []
    const refused: { line: number; reason: string }[] = []
    const rows = [...dsvFormat(delimiter).parseRows(text).entries()].filter(([, row]) => isFilled(row))
    for (const [index, row] of holdsHeader ? rows.slice(1) : rows) {
      const line = firstLine + index
      const at = readFileTime(timeText(row, timeColumns), timeFormat, this.#wall)
      if (typeof at !== 'number') {
        refused.push({ line, reason: at.problem })
        continue
      }
      const values = fields.flatMap((field, column) =>
        field === null ? [] : [quoted(cellText(row[column] ?? '', decimal))],
      )
      csv.push([String(at), ...values].join())
      lines.push(line)
    }
    return { csv: csv.join('\n'), lines, refused }
  }
}

const cellText = (cell: string, decimal: '.' | ','): string => {
  const value = readCell(cell, decimal)
  return typeof value === 'number' ? String(value) : cell.trim()
}

const quoted = (cell: string): string => (/[",\r\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell)

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
