import { isStoreAway } from './databaseError.ts'

/** What came of some of the items: what the work returned, or why it failed. */
export type Part<T, R> =
  | { readonly items: readonly T[]; readonly result: R }
  | { readonly items: readonly T[]; readonly error: unknown }

/**
 * Does together what can be done together. Where that fails, and not because the store is away, the items are parted until
 * those are found that are the reason: they fail by themselves, and the others are done.
 * @param work does it for all of the items it is given, or throws with nothing done
 */
export async function* parted<T, R>(
  items: readonly T[],
  work: (items: readonly T[]) => Promise<R>,
): AsyncGenerator<Part<T, R>> {
  let result: R
  try {
    result = await work(items)
  } catch (error) {
    if (items.length === 1 || isStoreAway(error)) {
      yield { items, error }
      return
    }
    const half = Math.ceil(items.length / 2)
    yield* parted(items.slice(0, half), work)
    yield* parted(items.slice(half), work)
    return
  }
  yield { items, result }
}
