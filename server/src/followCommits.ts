import { setTimeout } from 'node:timers/promises'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import type { Logger } from 'pino'
import { type Consumer, Consumers } from './afterCommit/consumers.ts'
import type { Alarms } from './alarms/openAlarms.ts'
import { DerivedBuilder } from './derived/derivedBuilder.ts'
import { dueDerived } from './derived/dueDerived.ts'
import { OneAtATime } from './life/oneAtATime.ts'
import type { Opened } from './life/opened.ts'
import { keepHeard } from './presence/keepHeard.ts'
import type { ReadingChanges } from './readings/readingChanges.ts'
import { duePages } from './rollups/duePages.ts'
import { RollupBuilder } from './rollups/rollupBuilder.ts'
import type { Rules } from './rules/openRules.ts'
import { countArrivals } from './strip/countArrivals.ts'

interface FollowParts {
  readonly pool: pg.Pool
  /** Epoch ms. */
  readonly now: () => number
  readonly log: Logger
  /** Does some work every so many ms. */
  readonly every: (ms: number, what: string, work: () => Promise<unknown>) => void
  readonly opened: Opened
  readonly changes: Pick<ReadingChanges, 'correct'>
  /** Sees whether devices did what was asked. */
  readonly confirm: Consumer
  readonly rules: Pick<Rules, 'judge' | 'follow'>
  readonly alarms: Pick<Alarms, 'judge' | 'follow' | 'tell'>
  /** Told of readings that followed from what came in. */
  readonly told: (readings: readonly Reading[]) => void
  /** Told when derived readings of the past are otherwise than they were. */
  readonly pastChanged: () => Promise<void>
}

/**
 * Lets what follows from a commit follow: one line here for each consumer.
 * @returns lets it follow at once, and lets alarms be judged soon
 */
export async function followCommits(parts: FollowParts): Promise<{ follow: () => void; guard: () => void }> {
  const { pool, now, log, every, opened } = parts
  const consumers = await Consumers.open({
    pool,
    log,
    consumers: [
      duePages,
      keepHeard,
      countArrivals,
      dueDerived,
      parts.confirm,
      parts.rules.judge,
      parts.alarms.judge,
    ],
  })
  const builder = opened.add(
    new RollupBuilder(pool, now, (ms) => setTimeout(ms, undefined, { ref: false })),
    (it) => it.close(),
  )
  const trying = (work: () => Promise<unknown>, failed: string) => () =>
    work().catch((error: unknown) => log.warn({ err: error }, failed))
  // What was committed last before a stop counts from the start.
  await consumers.run()
  const derived = new DerivedBuilder(parts)
  const following = opened.add(
    new OneAtATime(async () => {
      await consumers.run()
      await derived.run()
      await parts.rules.follow()
      await parts.alarms.follow()
    }),
    (it) => {
      derived.close()
      return it.settled()
    },
  )
  const follow = trying(() => following.run(), 'what was committed waits to be followed')
  every(1000, 'following commits', follow)
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
  const guarding = opened.add(
    new OneAtATime(async () => {
      await setTimeout(soon, undefined, { ref: false })
      await consumers.runOne(parts.alarms.judge.name)
      await parts.alarms.tell()
    }),
    (it) => it.settled(),
  )
  const guard = trying(() => guarding.again(), 'alarms wait to be judged')
  return { follow: () => void follow(), guard: () => void guard() }
}

/** Whoever is told of an alarm waits for it: what was committed is judged so soon, with what comes until then, ms. */
const soon = 50
