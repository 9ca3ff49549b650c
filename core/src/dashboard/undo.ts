/** Something that is edited, with what it was before and what was taken back. */
export interface Undoable<T> {
  readonly past: readonly T[]
  readonly present: T
  readonly future: readonly T[]
}

/** So many steps can be taken back. */
const most = 200

export const undoable = <T>(present: T): Undoable<T> => ({ past: [], present, future: [] })

/** A step on; what was taken back is gone. One that changes nothing is no step. */
export const stepped = <T>(done: Undoable<T>, present: T): Undoable<T> =>
  present === done.present ? done : { past: [...done.past, done.present].slice(-most), present, future: [] }

export function undone<T>(done: Undoable<T>): Undoable<T> {
  if (done.past.length === 0) return done
  return {
    past: done.past.slice(0, -1),
    present: done.past.at(-1) as T,
    future: [done.present, ...done.future],
  }
}

export function redone<T>(done: Undoable<T>): Undoable<T> {
  const [next, ...future] = done.future
  return next === undefined ? done : { past: [...done.past, done.present], present: next, future }
}
