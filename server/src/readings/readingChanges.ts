import type { RereadChange } from '@jaunty-sparrow/core/rereading'
import type pg from 'pg'
import type { Database } from '../store/database.ts'
import { Append } from './append.ts'
import { ChangeKind } from './changeMarks.ts'
import { correct } from './correct.ts'
import type { LargeChanges } from './largeChanges.ts'
import type { ReadingPartitions } from './readingPartitions.ts'
import { movePiece, removePiece } from './sweep.ts'
import type { Write } from './written.ts'

/** From one signal to another. */
export interface Move {
  readonly from: number
  readonly to: number
}

interface MoveAll {
  readonly kind: 'move'
  readonly moves: readonly Move[]
}

interface RemoveAll {
  readonly kind: 'remove'
  readonly signals: readonly number[]
}

/** How many of the moves, or of the signals, are done. */
interface Done {
  readonly done: number
}

/**
 * The one place where readings change: they are appended, corrected, moved and removed here and nowhere else, and each change
 * leaves its marks in the same transaction for what is built upon readings.
 */
export class ReadingChanges {
  readonly #database: Database
  readonly #partitions: ReadingPartitions
  readonly #append: Append
  readonly #large: LargeChanges

  constructor(database: Database, partitions: ReadingPartitions, large: LargeChanges) {
    this.#database = database
    this.#partitions = partitions
    this.#append = new Append(database.$client, partitions)
    this.#large = large
    large.carryOut<MoveAll, Done>('move', (client, { moves }, { done } = { done: 0 }) =>
      next(moves, done, async ({ from, to }) => movePiece(client, from, to)),
    )
    large.carryOut<RemoveAll, Done>('remove', (client, { signals }, { done } = { done: 0 }) =>
      next(signals, done, async (signal) => removePiece(client, signal)),
    )
  }

  /** Appends what came in. A reading that is there already stays as it was. */
  readonly append: Write = (readings, messages, heard) => this.#append.write(readings, messages, heard)

  /**
   * Corrects single readings inside a transaction.
   * @param kind what the mark says of it: what follows from what came in is new
   */
  async correct(
    client: pg.ClientBase,
    changes: readonly RereadChange[],
    kind: ChangeKind = ChangeKind.changed,
  ): Promise<void> {
    const set = changes.flatMap(({ signal, at, receivedAt, after }) =>
      after ? { signal, at, receivedAt, ...after } : [],
    )
    await this.#partitions.ensure(set)
    await correct(client, changes, kind)
  }

  /** Takes down, inside a transaction, that readings go from some signals to others. @returns carries it out after the commit */
  async move(tx: Pick<Database, 'insert'>, moves: readonly Move[]): Promise<() => Promise<void>> {
    const id = await this.#large.takeDown(tx, { kind: 'move', moves } satisfies MoveAll)
    return () => this.#large.run(id)
  }

  /** Removes all readings of some signals. */
  async remove(signals: readonly number[]): Promise<void> {
    const what: RemoveAll = { kind: 'remove', signals }
    await this.#large.run(await this.#large.takeDown(this.#database, what))
  }
}

/** Goes on with the one that is not done, and to the next when nothing of it was left. */
async function next<T>(
  items: readonly T[],
  done: number,
  work: (item: T) => Promise<number>,
): Promise<Done | null> {
  const item = items[done]
  if (item === undefined) return null
  const worked = await work(item)
  return { done: worked === 0 ? done + 1 : done }
}
