import type { Presence } from '@jaunty-sparrow/core/presence'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import type { Consumer } from '../afterCommit/consumers.ts'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { EventStore } from '../events/eventStore.ts'
import type { RuleInputs } from '../rules/ruleInputs.ts'
import { AlarmBook } from './alarmBook.ts'
import { AlarmKeeper } from './alarmKeeper.ts'
import { type AlarmTest, AlarmTests } from './alarmTests.ts'
import { BoardGuards } from './boardGuards.ts'
import { BuiltInAlarms, type Conditions } from './builtInAlarms.ts'
import { judgeAlarms } from './judgeAlarms.ts'
import { passTime } from './passTime.ts'

interface AlarmsParts {
  readonly pool: pg.Pool
  readonly registry: DeviceRegistry
  readonly inputs: RuleInputs
  readonly latest: { of(signal: number): Reading | undefined }
  readonly events: Pick<EventStore, 'tellOf'>
  readonly hub: { alarmsChanged(): void; alarmTest(test: AlarmTest): void }
  /** How a signal of a device does; undefined while nobody knows. */
  readonly presenceOf: (signal: number) => Presence | undefined
  readonly conditions: Conditions
  /** Epoch ms. */
  readonly now: () => number
}

/** So many occurrences at once are told to those who look; of more they are told that there are some. */
const mostTold = 200

/** All there is of alarms, put together. */
export interface Alarms {
  readonly book: AlarmBook
  /** By what boards guard. */
  readonly guards: BoardGuards
  /** Which boards and walls are tried. */
  readonly tests: Pick<AlarmTests, 'on'>
  /** Tries one, here and at the other servers on the same database. */
  readonly test: (test: AlarmTest) => Promise<{ readonly until: number }>
  /** The same for one that another server has begun. */
  readonly testElsewhere: (test: AlarmTest) => void
  /** Judges what is committed. */
  readonly judge: Consumer
  /** Tells what was judged, when it holds. */
  readonly tell: () => Promise<void>
  /** Lets time pass, and tells what came of it: after what was committed is judged. */
  readonly follow: () => Promise<void>
  /** Drops what happened to alarms before an instant, epoch ms. */
  readonly forgetBefore: (instant: number) => Promise<void>
}

export async function openAlarms(parts: AlarmsParts): Promise<Alarms> {
  const { pool, registry, inputs, events, hub, conditions } = parts
  await pool.query('insert into alarm_turn (id, turn, looked_at) values (1, 0, now()) on conflict do nothing')
  const builtIn = new BuiltInAlarms(registry, conditions)
  const keeper = new AlarmKeeper({ ...parts, others: () => builtIn.stated() })
  let written: number[] = []
  let hasChanged = false
  const changed = (done: { readonly events: readonly number[]; readonly hasChanged: boolean }) => {
    written.push(...done.events)
    hasChanged ||= done.hasChanged
  }
  const tell = async () => {
    const told = written.slice(0, mostTold)
    const isTold = hasChanged
    written = []
    hasChanged = false
    if (isTold) {
      guards.mark()
      hub.alarmsChanged()
      await guards.look()
    }
    await events.tellOf(told)
  }
  const book = new AlarmBook({ ...parts, keeper, builtIn, changed, tell })
  const tests = new AlarmTests(parts.now)
  const guards = new BoardGuards({ ...parts, alarmBook: book, tests })
  const testHere = (test: AlarmTest) => {
    guards.mark()
    return tests.begin(test)
  }
  return {
    book,
    guards,
    tests,
    test: async (test) => {
      const begun = testHere(test)
      hub.alarmTest(test)
      await guards.look()
      return begun
    },
    testElsewhere: (test) => void testHere(test),
    judge: judgeAlarms({ keeper, inputs, changed }),
    tell,
    follow: async () => {
      const done = await passTime({ ...parts, keeper, isSo: (stated) => builtIn.isSo(stated) })
      if (done) changed(done)
      if (tests.forgetOver()) hasChanged = true
      await tell()
      await guards.look()
    },
    forgetBefore: async (instant) => {
      await pool.query('delete from alarm_act where at < to_timestamp($1::float8 / 1000)', [instant])
    },
  }
}
