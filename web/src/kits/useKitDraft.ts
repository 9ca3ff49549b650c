import type { Kit, NewSignalDefinition } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { useChangeSignalDefinitionMutation } from '../signals/signalsApi.ts'
import { type Column, columns, type RowRead, type RowTexts, readRow } from './columns.ts'
import { useAddSignalDefinitionMutation } from './kitsApi.ts'

/** A row of a kit's table: a signal, or one that is being added. */
export interface DraftRow {
  readonly id: string
  readonly signal: Kit['signals'][number] | undefined
  readonly typed: RowTexts
}

const addedRow = (place: number): string => `added ${place}`

/** What is typed into the table of a kit and not saved yet. */
export function useKitDraft(kit: Kit) {
  const [typed, setTyped] = useState<Readonly<Record<string, RowTexts>>>({})
  const [added, setAdded] = useState(0)
  const [failed, setFailed] = useState<unknown>()
  const [isSaving, setSaving] = useState(false)
  const [change] = useChangeSignalDefinitionMutation()
  const [add] = useAddSignalDefinitionMutation()
  const signals = kit.signals.filter(({ state }) => state === 'accepted')
  const rows: DraftRow[] = [
    ...signals.map((signal) => ({ id: String(signal.id), signal, typed: typed[signal.id] ?? {} })),
    ...Array.from({ length: added }, (_, place) => ({
      id: addedRow(place),
      signal: undefined,
      typed: typed[addedRow(place)] ?? {},
    })),
  ]
  const changed = rows.filter((row) => Object.keys(row.typed).length > 0)
  const reads = new Map<string, RowRead>(changed.map((row) => [row.id, readRow(row.typed)]))
  const hasProblem = [...reads.values()].some(({ problems }) => Object.keys(problems).length > 0)

  const original = ({ signal }: DraftRow, { key, cell }: Column): string =>
    signal ? cell.write(signal[key]) : ''
  /** Types cells from one on to the right and down, as one paste does; rows are added where they are missing. */
  const type = (row: number, column: number, cells: readonly (readonly string[])[]) => {
    const next: Record<string, RowTexts> = { ...typed }
    for (const [down, texts] of cells.entries()) {
      const target = rows[row + down]
      const id = target?.id ?? addedRow(added + row + down - rows.length)
      const before: Record<string, string> = { ...next[id] }
      for (const [right, text] of texts.entries()) {
        const at = columns[column + right]
        if (!at || (target && !isOf(target, at))) continue
        if (target && text === original(target, at)) delete before[at.key]
        else before[at.key] = text
      }
      next[id] = before
    }
    setTyped(next)
    setAdded(Math.max(added, added + row + cells.length - rows.length))
  }
  const discard = () => {
    setTyped({})
    setAdded(0)
    setFailed(undefined)
  }
  const save = async () => {
    setSaving(true)
    setFailed(undefined)
    const left = { ...typed }
    try {
      for (const { id, signal } of changed) {
        const { read } = reads.get(id) ?? { read: {} }
        if (signal) await change({ definitionId: signal.id, body: read }).unwrap()
        else await add({ kitId: kit.id, body: { kind: 'number', ...read } as NewSignalDefinition }).unwrap()
        delete left[id]
      }
      discard()
    } catch (error) {
      // What was saved is not typed any more; the rest stays.
      setTyped(left)
      setFailed(error)
    } finally {
      setSaving(false)
    }
  }
  return {
    rows,
    reads,
    isChanged: changed.length > 0,
    canSave: changed.length > 0 && !hasProblem && !isSaving,
    failed,
    textOf: (row: DraftRow, column: Column): string => row.typed[column.key] ?? original(row, column),
    type,
    addRow: () => setAdded(added + 1),
    discard,
    save,
  }
}

const ofMeasured: ReadonlySet<string> = new Set(['field', 'conversion', 'faults', 'storing'])

/** Whether a row has a cell in a column: what a signal is stays, and only numbers have units. */
export function isOf({ signal, typed }: DraftRow, { key, kinds }: Column): boolean {
  if (signal && key === 'kind') return false
  // How it is derived is said beside its value, where what it comes to is seen.
  if (signal?.origin === 'derived' && ofMeasured.has(key)) return false
  const kind = signal?.kind ?? (typed.kind?.trim() || 'number')
  return kinds === undefined || kinds.some((one) => one === kind)
}
