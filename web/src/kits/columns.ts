import type { SignalDefinition, SignalSettings } from '@jaunty-sparrow/contract'
import { signalKinds } from '@jaunty-sparrow/core/signal'
import {
  bandsText,
  CellError,
  type CellText,
  cadenceText,
  choicesText,
  decimalsText,
  faultsText,
  fieldText,
  limitsText,
  nameText,
  optionalText,
  rangeText,
  storingText,
  unitText,
} from './cellTexts.ts'

type Described = Pick<SignalDefinition, 'name' | 'field' | 'kind' | 'choices'> & SignalSettings

/** A column of a kit's table. */
export interface Column {
  readonly key: keyof Described
  readonly title: string
  /** How wide it is, rem. */
  readonly width: number
  readonly cell: CellText<unknown>
  /** Of which kinds of signals it is; of all without it. */
  readonly kinds?: readonly SignalDefinition['kind'][]
}

const kindText: CellText<SignalDefinition['kind']> = {
  write: (kind) => kind,
  read: (text) => {
    const kind = signalKinds.find((one) => one === (text.trim() || 'number'))
    if (!kind) throw new CellError(`"${text.trim()}" is no kind of signal: write ${signalKinds.join(', ')}.`)
    return kind
  },
}

const column = <K extends keyof Described>(
  key: K,
  title: string,
  width: number,
  cell: CellText<Described[K]>,
  kinds?: Column['kinds'],
): Column => ({ key, title, width, cell: cell as CellText<unknown>, ...(kinds && { kinds }) })

const number = ['number'] as const

/** Everything a kit says of its signals, in the order people fill it in. */
export const columns: readonly Column[] = [
  column('name', 'Name', 11, nameText),
  column('field', 'Field', 9, fieldText),
  column('kind', 'Kind', 6, kindText),
  column('unit', 'Unit', 5, unitText, number),
  column('decimals', 'Decimals', 5, decimalsText, number),
  column('range', 'Plausible', 8, rangeText, number),
  column('shown', 'Shown', 8, rangeText, number),
  column('limits', 'Limits', 15, limitsText, number),
  column('bands', 'Bands', 15, bandsText, number),
  column('conversion', 'Conversion', 18, optionalText, number),
  column('faults', 'Faults', 12, faultsText, number),
  column('choices', 'States', 12, choicesText, ['choice']),
  column('storing', 'Stored', 9, storingText),
  column('cadence', 'Cadence', 7, cadenceText),
  column('group', 'Group', 8, optionalText),
]

/** What is typed in a row, by column. */
export type RowTexts = Readonly<Partial<Record<Column['key'], string>>>

/** What a row says: what was read of each cell that was typed in, and what was not understood, by column. */
export interface RowRead {
  readonly read: Partial<Described>
  readonly problems: Readonly<Partial<Record<Column['key'], string>>>
}

/** Reads the cells of a row that were typed in. */
export function readRow(texts: RowTexts): RowRead {
  const read: Record<string, unknown> = {}
  const problems: Partial<Record<Column['key'], string>> = {}
  for (const { key, cell } of columns) {
    const text = texts[key]
    if (text === undefined) continue
    try {
      read[key] = cell.read(text)
    } catch (error) {
      if (!(error instanceof CellError)) throw error
      problems[key] = error.message
    }
  }
  return { read: read as Partial<Described>, problems }
}

/** What was copied in a spreadsheet, row by row; its titles are left out. */
export function pastedCells(text: string): string[][] {
  const rows = text
    .replaceAll('\r\n', '\n')
    .replace(/\n$/, '')
    .split('\n')
    .map((row) => row.split('\t').map((cell) => cell.replace(/^"(.*)"$/, '$1')))
  const titles = new Set(columns.map(({ title }) => title.toLowerCase()))
  const isTitled = rows[0]?.every((cell) => titles.has(cell.trim().toLowerCase()))
  return isTitled ? rows.slice(1) : rows
}
