import { dsvFormat } from 'd3-dsv'
import type { Decoder } from './decodeFailure.ts'
import { type Field, type FieldRecord, pointerSegment, type RawValue } from './field.ts'
import { readText } from './textValue.ts'

/** The names under which a column is taken as the time of its row. */
const timeColumns = new Set(['t', 'time', 'timestamp'])

/**
 * Reads CSV with a header (RFC 4180): each row is a record, each further column a field, empty cells are none. Commas,
 * semicolons and tabs divide; whichever the header has most of. A name that begins with a slash is a JSON Pointer already.
 */
export const decodeCsv: Decoder<string> = (text) => {
  // Empty rows are let go of one by one: there may be as many as there are bytes.
  const rows = dsvFormat(delimiterOf(text)).parseRows(text.replace(/^\uFEFF/, ''), (cells, index) =>
    cells.length === 1 && cells[0]?.trim() === '' ? null : { cells, index },
  )
  const header = rows.shift()?.cells
  if (!header || rows.length === 0) {
    return {
      failure:
        'The CSV holds no rows: send a header line, such as "t,temperature", and at least one row below it.',
    }
  }
  const names = header.map((name) => name.trim())
  const pointers = names.map((name) => (name.startsWith('/') ? name : pointerSegment(name)))
  const timeColumn = names.findIndex((name) => timeColumns.has(name.toLowerCase()))
  const records: FieldRecord[] = []
  for (const { cells: row, index } of rows) {
    if (row.length > names.length) {
      return {
        failure: `Line ${index + 1} of the CSV has ${row.length} cells, its header names ${names.length} columns.`,
      }
    }
    const fields: Field[] = []
    let time: RawValue | undefined
    for (const [column, cell] of row.entries()) {
      if (cell.trim() === '') continue
      if (column === timeColumn) time = readText(cell)
      else fields.push({ pointer: pointers[column] ?? '', value: readText(cell) })
    }
    records.push(time === undefined ? { fields } : { time, fields })
  }
  return records
}

/** The delimiter that the first line has most of. */
export function delimiterOf(text: string): string {
  const header = text.slice(0, text.search(/[\r\n]|$/))
  const count = (delimiter: string) => header.split(delimiter).length
  return [',', ';', '\t'].reduce((best, next) => (count(next) > count(best) ? next : best))
}
