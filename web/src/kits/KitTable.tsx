import type { Kit } from '@jaunty-sparrow/contract'
import { Plus } from 'lucide-react'
import type { ClipboardEvent, KeyboardEvent } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { counted } from '../design/counted.ts'
import { Notice } from '../design/Notice.tsx'
import { type Column, columns, pastedCells } from './columns.ts'
import { type DraftRow, isOf, useKitDraft } from './useKitDraft.ts'

/** Goes to the cell above or below. */
function moveBy(step: number, from: HTMLElement): void {
  const row = from.closest('tr')
  const column = from.closest('td')?.cellIndex ?? 0
  const next = step > 0 ? row?.nextElementSibling : row?.previousElementSibling
  const cell = next instanceof HTMLTableRowElement ? next.cells[column] : undefined
  cell?.querySelector('input')?.focus()
}

/** All signals of a kit in one table that is typed into, or pasted from a spreadsheet. */
export function KitTable({ kit, canChange }: { kit: Kit; canChange: boolean }) {
  const draft = useKitDraft(kit)
  const problems = [...draft.reads.values()].flatMap((row) => Object.values(row.problems))
  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    const step = { Enter: 1, ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (step === undefined) return
    event.preventDefault()
    moveBy(step, event.currentTarget)
  }
  const paste = (event: ClipboardEvent, row: number, column: number) => {
    const text = event.clipboardData.getData('text/plain')
    if (!/[\t\n]/.test(text)) return
    event.preventDefault()
    draft.type(row, column, pastedCells(text))
  }
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3">
      <div className="overflow-x-auto border-y border-rule">
        <table className="border-collapse text-sm">
          <thead>
            <tr className="text-left text-ink-soft">
              {columns.map(({ key, title }) => (
                <th
                  key={key}
                  scope="col"
                  className={`px-2 py-1.5 font-normal ${key === 'name' ? 'sticky left-0 z-10 bg-paper' : ''}`}
                >
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {draft.rows.map((row, place) => (
              <tr key={row.id} className="border-t border-rule">
                {columns.map((column, at) => {
                  const { key, title, width } = column
                  const problem = draft.reads.get(row.id)?.problems[key]
                  const isTyped = row.typed[key] !== undefined
                  return (
                    <td key={key} className={key === 'name' ? 'sticky left-0 z-10 bg-paper' : ''}>
                      <input
                        aria-label={`${title} of ${draft.textOf(row, columns[0] ?? column) || 'the new signal'}`}
                        aria-invalid={problem ? true : undefined}
                        title={problem ?? draft.textOf(row, column)}
                        style={{ width: `${width}rem` }}
                        className={`min-h-9 rounded-none bg-transparent px-2 py-1.5 focus:bg-sheet disabled:text-ink-soft aria-invalid:text-trouble ${isTyped ? 'bg-well font-semibold' : ''} ${key === 'conversion' ? 'font-mono text-xs' : ''}`}
                        value={shownIn(row, column, draft.textOf(row, column))}
                        disabled={!canChange || !isOf(row, column)}
                        spellCheck={false}
                        onChange={({ target }) => draft.type(place, at, [[target.value]])}
                        onKeyDown={press}
                        onPaste={(event) => paste(event, place, at)}
                      />
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {problems.length > 0 && (
        <Notice tone="trouble" title={problems[0] ?? ''}>
          {problems.length > 1 && `${counted(problems.length - 1, 'more cell')} cannot be read.`}
        </Notice>
      )}
      {Boolean(draft.failed) && <Notice tone="trouble" title={problemText(draft.failed)} />}
      {canChange && (
        <div className="flex flex-wrap items-center gap-2">
          <Button weight="quiet" className="-mx-3" onClick={draft.addRow}>
            <Plus aria-hidden="true" className="size-4" />
            Add a signal
          </Button>
          <span className="flex-1 text-sm text-ink-soft">
            {draft.isChanged
              ? reaches(kit)
              : 'Type into a cell, or paste cells from a spreadsheet; Enter and the arrows lead up and down.'}
          </span>
          {draft.isChanged && <Button onClick={draft.discard}>Discard</Button>}
          <Button weight="strong" disabled={!draft.canSave} onClick={() => void draft.save()}>
            Save
          </Button>
        </div>
      )}
    </div>
  )
}

/** A cell that a signal does not have is empty; where others are read from a field, it is said that this one is derived. */
function shownIn(row: DraftRow, column: Column, text: string): string {
  if (isOf(row, column) || column.key === 'kind') return text
  return column.key === 'field' && row.signal?.origin === 'derived' ? 'derived' : ''
}

const reaches = ({ devices }: Kit): string =>
  devices.length === 0
    ? 'Reaches no device yet.'
    : `Reaches ${counted(devices.length, 'device')} at once: ${devices.slice(0, 6).join(', ')}${devices.length > 6 ? ' …' : ''}.`
