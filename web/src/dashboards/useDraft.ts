import type { KeptDashboard } from '@jaunty-sparrow/contract'
import {
  type Dashboard,
  type Edit,
  edited,
  redone,
  stepped,
  type Undoable,
  undoable,
  undone,
} from '@jaunty-sparrow/core/dashboard'
import { useCallback, useEffect, useState } from 'react'

/** A dashboard as somebody changes it, until it is published. */
interface Kept {
  /** The version it began from. */
  readonly basedOn: number
  readonly steps: Undoable<Dashboard>
}

const keyOf = (id: number): string => `draft-of-dashboard-${id}`

/** What was kept of a draft; undefined where there is none, or what is there cannot be read. */
function read(id: number): Kept | undefined {
  const kept = localStorage.getItem(keyOf(id))
  if (kept === null) return undefined
  try {
    return JSON.parse(kept) as Kept
  } catch {
    // Written by another version, or cut off: what was published is still there.
    localStorage.removeItem(keyOf(id))
    return undefined
  }
}

/** So many steps back are kept over a reload. */
const mostKept = 20

function keep(id: number, { basedOn, steps }: Kept): void {
  const write = (past: readonly Dashboard[]) =>
    localStorage.setItem(keyOf(id), JSON.stringify({ basedOn, steps: { ...steps, past, future: [] } }))
  try {
    write(steps.past.slice(-mostKept))
  } catch {
    // Pictures may be more than a browser keeps: then it keeps where one is, and one step back.
    write(steps.past.slice(0, 1))
  }
}

export interface Draft {
  readonly shows: Dashboard
  readonly basedOn: number
  readonly isChanged: boolean
  readonly canUndo: boolean
  readonly canRedo: boolean
  readonly edit: (edit: Edit) => void
  /** Takes in a whole document, such as an earlier version, as one step. */
  readonly take: (shows: Dashboard) => void
  readonly undo: () => void
  readonly redo: () => void
  /** Says that it is based on another version from here on: somebody has seen that one. */
  readonly rebase: (version: number) => void
  readonly discard: () => void
}

/** A draft that survives a reload and a lost connection: it is kept in this browser until it is published or thrown away. */
export function useDraft({ id, version, shows }: KeptDashboard): Draft {
  const [kept, setKept] = useState<Kept>(
    () => read(id) ?? { basedOn: version, steps: undoable<Dashboard>(shows) },
  )
  // One that changes nothing follows what is published.
  const isChanged = kept.steps.past.length > 0 || kept.steps.future.length > 0
  const current = isChanged ? kept : { basedOn: version, steps: undoable<Dashboard>(shows) }
  useEffect(() => {
    if (!isChanged) localStorage.removeItem(keyOf(id))
    else keep(id, kept)
  }, [id, kept, isChanged])
  const step = useCallback(
    (change: (steps: Undoable<Dashboard>) => Undoable<Dashboard>) =>
      setKept((before) => {
        const from =
          before.steps.past.length > 0 || before.steps.future.length > 0
            ? before
            : { basedOn: version, steps: undoable<Dashboard>(shows) }
        return { ...from, steps: change(from.steps) }
      }),
    [version, shows],
  )
  const undo = useCallback(() => step(undone), [step])
  const redo = useCallback(() => step(redone), [step])
  return {
    shows: current.steps.present,
    basedOn: current.basedOn,
    isChanged,
    canUndo: current.steps.past.length > 0,
    canRedo: current.steps.future.length > 0,
    edit: (edit) => step((steps) => stepped(steps, edited(steps.present, edit))),
    take: (taken) => step((steps) => stepped(steps, taken)),
    undo,
    redo,
    rebase: (basedOn) => setKept((before) => ({ ...before, basedOn })),
    discard: () => setKept({ basedOn: version, steps: undoable<Dashboard>(shows) }),
  }
}
