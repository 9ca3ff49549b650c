import type { RawValue } from '../message/field.ts'
import { readText } from '../message/textValue.ts'

/**
 * What a point is in the numbers of one column, where the file has decimal commas: it parts thousands, or decimals as
 * elsewhere; `unclear` where nothing in the column tells, `none` where none was seen.
 */
export type Point = 'thousands' | 'decimals' | 'unclear' | 'none'

/** How the numbers of one column are written. */
export interface NumberStyle {
  readonly decimal: '.' | ','
  readonly point: Point
}

const decimalComma = /^[-+]?\d+,\d+$/
const grouped = /^[-+]?[1-9]\d{0,2}(?:\.\d{3})+$/
const groupedWithComma = /^[-+]?[1-9]\d{0,2}(?:\.\d{3})+,\d+$/

/** What says that there is no value. */
const nothing = /^(?:n\/?a|nan|null|-{1,3})$/i

/** Whether a cell says that there is no value: it is empty, or says so as loggers and spreadsheets do. */
export const isNothing = (cell: string): boolean => cell.trim() === '' || nothing.test(cell.trim())

/** Whether a cell can only be a number with a decimal comma. */
export const hasDecimalComma = (cell: string): boolean =>
  decimalComma.test(cell) || groupedWithComma.test(cell)

/** Finds out what a point is in the cells of one column of a file with decimal commas. */
export function pointIn(cells: readonly string[]): Point {
  const pointed = cells.filter((cell) => /^[-+]?[\d.]*\.\d/.test(cell))
  if (pointed.length === 0) return 'none'
  if (pointed.some((cell) => !grouped.test(cell) && !groupedWithComma.test(cell))) return 'decimals'
  const proves = (cell: string) => hasDecimalComma(cell) || cell.split('.').length > 2
  return cells.some(proves) ? 'thousands' : 'unclear'
}

/** Reads a cell of a file. @returns the value, or why it is not taken */
export function readFileCell(
  cell: string,
  { decimal, point }: NumberStyle,
): RawValue | { readonly problem: string } {
  const text = cell.trim()
  if (decimal === '.') return readText(text)
  if (grouped.test(text) && point !== 'decimals') {
    if (point === 'thousands') return readText(text.replaceAll('.', ''))
    return {
      problem: `${text} could be ${text.replaceAll('.', '')} or ${Number.parseFloat(text)}, and nothing above tells; say what a point is in this column`,
    }
  }
  return readText(hasDecimalComma(text) ? text.replaceAll('.', '').replace(',', '.') : text)
}
