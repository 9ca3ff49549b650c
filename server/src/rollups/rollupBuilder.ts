import { aggregate, bucketsPerPage, type Counted, coarser, levels, pageOf } from '@jaunty-sparrow/core/rollup'
import type pg from 'pg'
import { inTransaction } from '../store/inTransaction.ts'
import { type Axis, axesOf, hasStates } from './axis.ts'
import { pageSeconds, touchedEvery } from './duePages.ts'
import { type Due, readingsOf } from './dueReadings.ts'
import { RollupPages } from './rollupPages.ts'

/** A page is built when its time is over for so long, ms, so that what was on its way is in it. */
const grace = 120_000
/** What was touched so lately, s, is likely to be touched again, as by a board whose clock is an hour late: it is built when it rests. */
const rest = touchedEvery + 10
/** So many pages of readings at a time take well below a second. */
const pagesPerPiece = 32

/** After each piece others have up to so many times as long, as busy as they are: what comes in goes first, and there is no hurry. */
const most = 10
/** Only one server builds at a time: two would overwrite each other's coarser pages. */
const builderLock = 7_600_009

/** Builds the pages that are due: from readings the finest, from those the coarser ones. */
export class RollupBuilder {
  readonly #pool: pg.Pool
  readonly #now: () => number
  readonly #pause: (ms: number) => Promise<unknown>
  #isRunning = false
  #isClosed = false

  /** @param pause waits for so many ms */
  constructor(pool: pg.Pool, now: () => number, pause: (ms: number) => Promise<unknown>) {
    this.#pool = pool
    this.#now = now
    this.#pause = pause
  }

  /** Builds what is due piece by piece; hours of one signal together, so that their coarser pages are written once. */
  async run(): Promise<void> {
    // It is asked for again and again, whether it is still at it or not.
    if (this.#isRunning) return
    this.#isRunning = true
    try {
      await this.#buildAll()
    } finally {
      this.#isRunning = false
    }
  }

  async #buildAll(): Promise<void> {
    while (!this.#isClosed) {
      const began = performance.now()
      if ((await this.#piece()) < pagesPerPiece) return
      const took = performance.now() - began
      const before = performance.eventLoopUtilization()
      await this.#pause(took)
      const { utilization } = performance.eventLoopUtilization(before)
      await this.#pause((most - 1) * utilization * took)
    }
  }

  close(): void {
    this.#isClosed = true
  }

  /** @returns how many pages were due */
  #piece(): Promise<number> {
    return inTransaction(this.#pool, async (client) => {
      const lock = await client.query<{ free: boolean }>('select pg_try_advisory_xact_lock($1) as free', [
        builderLock,
      ])
      if (!lock.rows[0]?.free) return 0
      const { rows: due } = await client.query<Due>({
        name: 'take-due-pages',
        text: `select due_page.signal_id, due_page.page, kind
          from due_page join signal on signal.id = due_page.signal_id
            join signal_definition on signal_definition.id = signal.definition_id
          where page < $1 and since < now() - make_interval(secs => ${rest})
          order by signal_id, page limit ${pagesPerPiece} for update of due_page`,
        values: [Math.floor((this.#now() - grace) / 1000 / pageSeconds)],
      })
      if (due.length === 0) return 0
      await build(client, due)
      await client.query(
        'delete from due_page using unnest($1::int[], $2::int[]) as built (signal_id, page) where due_page.signal_id = built.signal_id and due_page.page = built.page',
        [due.map(({ signal_id }) => signal_id), due.map(({ page }) => page)],
      )
      return due.length
    })
  }
}

async function build(client: pg.ClientBase, due: readonly Due[]): Promise<void> {
  const { numbers, places } = await readingsOf(client, due)
  const pages = new RollupPages()
  await pages.load(client, due)
  for (const { signal_id: signal, page, kind } of due) {
    const key = `${signal} ${page}`
    if (kind === 'position') {
      for (const axis of axesOf(kind))
        roll(
          pages,
          { signal, axis, page },
          (places.get(key) ?? []).map((place) => ({ ...place, value: place[axis as 'lat'] })),
          false,
        )
    } else {
      const own = numbers.get(key) ?? []
      pages.pack(signal, page, own)
      roll(pages, { signal, axis: 'value', page }, own, hasStates(kind))
    }
  }
  await pages.save(client)
}

/** Hours with fewer readings have no page of the finest buckets: it would take several times as much as the readings. */
const fewest = 8 * bucketsPerPage

interface Hour {
  readonly signal: number
  readonly axis: Axis
  readonly page: number
}

/** Rolls an hour of readings up, level by level. */
function roll(
  pages: RollupPages,
  { page, ...of }: Hour,
  readings: readonly Counted[],
  hasStates: boolean,
): void {
  const [finest] = levels
  pages.put({ ...of, level: finest, page }, aggregate(readings, finest, hasStates))
  const from = page * pageSeconds * 1000
  const to = from + pageSeconds * 1000
  for (const [index, level] of levels.entries()) {
    const below = levels[index - 1]
    if (below === undefined) continue
    const slots = pages.get({ ...of, level, page: pageOf(level, from) })
    for (let number = Math.floor(from / level); number * level < to; number++) {
      const lower = pages.get({ ...of, level: below, page: pageOf(below, number * level) })
      const inside = [...lower].filter(([each]) => Math.floor((each * below) / level) === number)
      const [joined] = coarser(new Map(inside), level / below).values()
      if (joined) slots.set(number, joined)
      else slots.delete(number)
    }
  }
  // Its readings, which are packed too, are not many more than the buckets.
  if (of.axis === 'value' && readings.length < fewest) pages.put({ ...of, level: finest, page }, new Map())
}
