import { fieldLabel, pointerSegment, pointerSegments } from '../message/field.ts'
import { detectTimeFormat, readFileTime, type TimeFormat } from '../time/fileTime.ts'
import { LocalClock, type RowOrder } from '../time/localClock.ts'
import { type CsvSample, csvRows } from './csvSample.ts'
import {
  hasDecimalComma,
  isNothing,
  type NumberStyle,
  type Point,
  pointIn,
  readFileCell,
} from './fileNumber.ts'

/** How a CSV file is to be read. */
export interface CsvPlan {
  readonly delimiter: string
  /** How many lines stand above the names of the columns. */
  readonly linesAbove: number
  readonly decimal: '.' | ','
  /** What a point is in each column, where decimals have a comma. */
  readonly points: readonly Point[]
  /** The columns that tell the time together: one, or a date and a time of day. */
  readonly timeColumns: readonly number[]
  readonly timeFormat: TimeFormat
  /** IANA name of the zone in which the clock hung, or a fixed offset such as `+01:00`, for formats that leave it open. */
  readonly zone: string
  readonly order: RowOrder
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

const timeOfDay = /^\d{1,2}:\d{2}(:\d{2})?/

/**
 * Finds out how a file is to be read: which columns are the time, and which signal each other column is.
 * @param signals the signals of the device, by field and name
 * @param zone where the file is taken to come from
 */
export function suggestPlan(
  { delimiter, linesAbove, header, rows }: CsvSample,
  signals: readonly { readonly field: string; readonly name: string }[],
  zone: string,
): SuggestedPlan {
  const columns = header.map((_, column) =>
    rows.map((row) => row[column]?.trim() ?? '').filter((cell) => !isNothing(cell)),
  )
  const time = findTime(columns)
  const decimal = delimiter !== ',' && columns.some((cells) => cells.some(hasDecimalComma)) ? ',' : '.'
  const points = columns.map((cells, column) =>
    decimal === ',' && !time?.columns.includes(column) ? pointIn(cells) : 'none',
  )
  const taken = new Set<string>()
  const fields = header.map((name, column) => {
    if (time?.columns.includes(column)) return null
    const style = { decimal, point: points[column] ?? 'none' } as const
    const holdsValues = columns[column]?.some((cell) => typeof readFileCell(cell, style) !== 'string')
    const field = signals.find((signal) => isNamed(signal, name))?.field ?? pointerSegment(name)
    if (!holdsValues || name === '' || taken.has(field)) return null
    taken.add(field)
    return field
  })
  const timeColumns = time?.columns ?? []
  const timeFormat = time?.format ?? 'year-first'
  return {
    delimiter,
    linesAbove,
    decimal,
    points,
    timeColumns,
    timeFormat,
    doubtfulTime: time?.doubtful ?? false,
    zone,
    order: orderOf(rows, timeColumns, timeFormat),
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
  columns: readonly (readonly string[])[],
): { columns: number[]; format: TimeFormat; doubtful: boolean } | undefined {
  for (const [column, cells] of columns.entries()) {
    const found = detectTimeFormat(cells)
    if (!found) continue
    const next = columns[column + 1] ?? []
    const split = next.length > 0 && next.every((cell) => timeOfDay.test(cell))
    const dateOnly = cells.every((cell) => !cell.includes(':'))
    return { columns: split && dateOnly ? [column, column + 1] : [column], ...found }
  }
  return undefined
}

/** The first and the last row tell, where time does not stand still between them. */
function orderOf(
  rows: readonly (readonly string[])[],
  timeColumns: readonly number[],
  format: TimeFormat,
): RowOrder {
  const clock = new LocalClock('UTC')
  const times = rows.flatMap((row) => {
    const at = readFileTime(timeText(row, timeColumns), format, clock)
    return typeof at === 'number' ? [at] : []
  })
  const [first, last] = [times[0], times.at(-1)]
  return first !== undefined && last !== undefined && last < first ? 'newest-first' : 'oldest-first'
}

/** What the columns of a row that tell the time say together. */
export const timeText = (row: readonly string[], timeColumns: readonly number[]): string =>
  timeColumns.map((column) => row[column]?.trim() ?? '').join(' ')

/** Reads the rows of a file by its plan, some at a time, in their order. */
export class CsvImport {
  readonly #plan: CsvPlan
  readonly #wall: LocalClock
  readonly #columns: readonly {
    readonly column: number
    readonly field: string
    readonly style: NumberStyle
  }[]
  readonly #header: string

  constructor(plan: CsvPlan) {
    this.#plan = plan
    this.#wall = new LocalClock(plan.zone, plan.order)
    this.#columns = plan.fields.flatMap((field, column) => {
      const style = { decimal: plan.decimal, point: plan.points[column] ?? 'none' }
      return field === null ? [] : [{ column, field, style }]
    })
    this.#header = ['t', ...this.#columns.map(({ field }) => field)].map(quoted).join()
  }

  /**
   * @param firstLine the line in the file that the text begins with, counted from 1
   * @param holdsHeader whether the names of the columns are in it, below the lines above them
   */
  read(text: string, firstLine: number, holdsHeader = false): ImportedRows {
    const { delimiter, linesAbove, timeColumns, timeFormat } = this.#plan
    const csv = [this.#header]
    const lines: number[] = []
    const refused: { line: number; reason: string }[] = []
    for (const { line, cells } of csvRows(text, delimiter, firstLine)) {
      if (holdsHeader && line <= firstLine + linesAbove) continue
      const at = readFileTime(timeText(cells, timeColumns), timeFormat, this.#wall)
      if (typeof at !== 'number') {
        refused.push({ line, reason: at.problem })
        continue
      }
      const values = this.#columns.map(({ column, field, style }) => {
        const read = cellText(cells[column] ?? '', style)
        if (typeof read === 'string') return quoted(read)
        refused.push({ line, reason: `${fieldLabel(field)}: ${read.problem}` })
        return ''
      })
      csv.push([timeCell(at), ...values].join())
      lines.push(line)
    }
    return { csv: csv.join('\n'), lines, refused }
  }
}

/** As milliseconds, unless they are so few that they would be read as seconds. */
const timeCell = (at: number): string => (at >= 1e11 ? String(at) : new Date(at).toISOString())

function cellText(cell: string, style: NumberStyle): string | { readonly problem: string } {
  if (isNothing(cell)) return ''
  const value = readFileCell(cell, style)
  if (typeof value === 'object' && value !== null && 'problem' in value) return value
  return typeof value === 'number' ? String(value) : cell.trim()
}

const quoted = (cell: string): string => (/[",\r\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell)
