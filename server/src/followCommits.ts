import { setTimeout } from 'node:timers/promises'
import type pg from 'pg'
import type { Logger } from 'pino'
import { Consumers } from './afterCommit/consumers.ts'
import type { Opened } from './life/opened.ts'
import { keepHeard } from './presence/keepHeard.ts'
import { duePages } from './rollups/duePages.ts'
import { RollupBuilder } from './rollups/rollupBuilder.ts'
import { countArrivals } from './strip/countArrivals.ts'

interface FollowParts {
  readonly pool: pg.Pool
  /** Epoch ms. */
  readonly now: () => number
  readonly log: Logger
  /** Does some work every so many ms. */
  readonly every: (ms: number, what: string, work: () => Promise<unknown>) => void
  readonly opened: Opened
}

/** Lets what follows from a commit follow: one line here for each consumer. */
export async function followCommits({ pool, now, log, every, opened }: FollowParts): Promise<void> {
  const consumers = await Consumers.open({ pool, log, consumers: [duePages, keepHeard, countArrivals] })
  const builder = opened.add(
    new RollupBuilder(pool, now, (ms) => setTimeout(ms, undefined, { ref: false })),
    (it) => it.close(),
  )
  const trying = (work: () => Promise<unknown>, failed: string) => () =>
    work().catch((error: unknown) => log.warn({ err: error }, failed))
  // What was committed last before a stop counts from the start.
  await consumers.run()
  every(
    1000,
    'following commits',
    trying(() => consumers.run(), 'what was committed waits to be followed'),
  )
  every(
    5000,
    'building rollups',
    trying(() => builder.run(), 'rollups wait to be built'),
  )
  every(
    60_000,
    'letting go of marks',
    trying(() => consumers.trim(), 'marks stay'),
  )
}
