import { mostStanding, routes, type StandingAlarm } from '@jaunty-sparrow/contract'
import { mayAt, mayEverywhere } from '@jaunty-sparrow/core/access'
import { alarmStates } from '@jaunty-sparrow/core/alarm'
import countBy from 'lodash-es/countBy.js'
import type pg from 'pg'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { type Binder, demand, notAllowed } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import { longestTrial } from '../rules/pastOfSignals.ts'
import type { RuleInputs } from '../rules/ruleInputs.ts'
import type { Database } from '../store/database.ts'
import type { AlarmBook } from './alarmBook.ts'
import type { AlarmTest, AlarmTests } from './alarmTests.ts'
import type { BoardGuards } from './boardGuards.ts'
import { subjectOf } from './standingAlarms.ts'
import { tryAlarm } from './tryAlarm.ts'

const day = 86_400_000
/** How long alarms rest where nothing else is said, s. */
const usualRest = 3600

export interface AlarmRouteParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly alarmBook: AlarmBook
  readonly boardGuards: Pick<BoardGuards, 'of'>
  readonly alarmTests: Pick<AlarmTests, 'on'>
  readonly testAlarm: (test: AlarmTest) => Promise<{ readonly until: number }>
  readonly ruleInputs: RuleInputs
  readonly now: () => number
}

/** What people ask of alarms, and do with them. */
export function bindAlarms({
  binder,
  database,
  registry,
  alarmBook,
  boardGuards,
  alarmTests,
  testAlarm,
  ruleInputs,
  now,
}: AlarmRouteParts): void {
  const pool: pg.Pool = database.$client
  /** What is of the server is for those who look after all sites. */
  const isSeenBy =
    ({ access }: Caller) =>
    ({ siteId }: Pick<StandingAlarm, 'siteId'>) =>
      siteId === null ? mayEverywhere(access, 'viewer') : mayAt(access, 'viewer', siteId)
  const noAlarm = () => new ProblemError('not-found', 'There is no such alarm.')

  binder.bind(routes.listAlarms, async ({ caller }) => {
    const alarms = (await alarmBook.standing()).filter(isSeenBy(caller))
    const counted = countBy(
      alarms.filter(({ causedBy }) => causedBy === null),
      ({ state }) => state,
    )
    const counts = Object.fromEntries(alarmStates.map((state) => [state, counted[state] ?? 0]))
    return {
      alarms: alarms.slice(0, mostStanding),
      counts: counts as Record<StandingAlarm['state'], number>,
      inAll: alarms.length,
      triedWalls: alarmTests.on('walls').filter((siteId) => mayAt(caller.access, 'viewer', siteId)),
    }
  })

  // Before single alarms, whose path its own would fit.
  binder.bind(routes.getAlarmRecord, async ({ query: { days }, caller }) => {
    const records = new Map((await alarmBook.record(now() - days * day)).map((each) => [each.id, each]))
    const standing = new Map((await alarmBook.standing()).map(({ id, state }) => [id, state]))
    const none = { raised: 0, seconds: 0, fleeting: 0, late: 0, medianToWord: null }
    return Array.from(alarmBook.stated.values(), (stated) => ({
      ...none,
      ...records.get(stated.id),
      id: stated.id,
      siteId: stated.device?.siteId ?? null,
      subject: subjectOf(stated),
      alarm: stated.alarm,
      state: standing.get(stated.id) ?? ('normal' as const),
    })).filter(isSeenBy(caller))
  })

  binder.bind(routes.getAlarm, async ({ params: { alarmId } }) => {
    const found = await alarmBook.find(alarmId)
    if (!found) throw noAlarm()
    return found
  })

  binder.bind(routes.listAlarmActs, ({ params: { alarmId }, query: { before } }) =>
    alarmBook.acts(alarmId, before),
  )

  binder.bind(routes.moveAlarms, async ({ body, caller }) => {
    const { alarms, move, word = '', seconds = usualRest } = body
    const needed = move === 'take-out' || move === 'return-to-service' ? 'owner' : 'operator'
    for (const id of alarms) {
      const stated = alarmBook.stated.get(id)
      if (!stated) throw noAlarm()
      if (stated.device) demand(caller, needed, stated.device.siteId, 'There is no such alarm.')
      else if (!mayEverywhere(caller.access, 'viewer')) throw noAlarm()
      else if (!mayEverywhere(caller.access, needed)) throw notAllowed(caller, needed, ' at all sites')
    }
    if ((move === 'shelve' || move === 'take-out') && word.trim() === '')
      throw new ProblemError('invalid', 'Say why: whoever finds it resting wants to know.')
    const moved = await alarmBook.move(alarms, { move, person: caller.person, word: word.trim(), seconds })
    return { moved, left: alarms.filter((id) => !moved.includes(id)) }
  })

  binder.bind(routes.testBuzzer, async ({ params: { address } }) => {
    const device = registry.get(address)
    if (!device) throw new ProblemError('not-found', 'There is no such device.')
    // Where nothing goes down to a board, none listens for it either.
    if (boardGuards.of(device.id) === undefined)
      throw new ProblemError(
        'invalid',
        `${device.name} has nothing to guard by: state limits or an alarm of one of its signals.`,
      )
    return testAlarm({ of: 'board', id: device.id })
  })

  binder.bind(routes.testWalls, ({ params: { siteId } }) => testAlarm({ of: 'walls', id: siteId }))

  binder.bind(routes.tryAlarm, async ({ params: { signalId }, body }) => {
    const { occasion, unless, limits, from, to } = body
    const known = registry.signal(signalId)
    const device = registry.get(known?.address ?? '')
    if (!known || !device) throw new ProblemError('not-found', 'There is no such signal.')
    if (to <= from || to - from > longestTrial)
      throw new ProblemError(
        'invalid',
        'An alarm is tried over a span that ends after it begins, of 92 days at most.',
      )
    for (const { name, of } of [...('inputs' in occasion ? occasion.inputs : []), ...(unless?.inputs ?? [])])
      if ('signal' in of && registry.get(registry.signal(of.signal)?.address ?? '')?.siteId !== device.siteId)
        throw new ProblemError('invalid', `"${name}" is no signal of the same site.`)
    return tryAlarm({ pool, registry, inputs: ruleInputs }, device, known.signal, {
      occasion,
      unless,
      limits,
      from,
      to,
    })
  })
}
