import { type RuleHold, routes, type StandingRule } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { newRuleState } from '@jaunty-sparrow/core/rule'
import { type SignalValue, usualControl } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { EventStore } from '../events/eventStore.ts'
import { type Binder, demand } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import type { Database } from '../store/database.ts'
import type { RuleCause } from '../store/schema.ts'
import { lastHands } from './lastHands.ts'
import { loadRules } from './loadRules.ts'
import { longestTrial } from './pastOfSignals.ts'
import type { RuleBook } from './ruleBook.ts'
import type { RuleInputs } from './ruleInputs.ts'
import { tryRule } from './tryRule.ts'

const mostActs = 100

export interface RuleRouteParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly ruleBook: RuleBook
  readonly ruleInputs: RuleInputs
  readonly events: EventStore
  /** Told when rules are otherwise than they were, so that what follows is asked for. */
  readonly rulesChanged: () => void
  readonly now: () => number
}

interface HoldRow {
  readonly signalId: number
  readonly ruleId: number | null
  readonly wish: SignalValue | null
  readonly since: number | null
  readonly handFor: number
  readonly problem: string
}

/** What people say of rules. */
export function bindRules(parts: RuleRouteParts): void {
  const { binder, database, registry, ruleBook, ruleInputs, events, rulesChanged, now } = parts
  const pool = database.$client
  const siteOf = (signalId: number) => registry.get(registry.signal(signalId)?.address ?? '')?.siteId

  const find = async (ruleId: number): Promise<StandingRule> => {
    const [found] = await standing(pool, siteOf, [ruleId])
    if (!found) throw new ProblemError('not-found', 'There is no such rule.')
    return found
  }
  /** Writes down who said what of a rule, and lets it be seen. */
  const tell = async (caller: Caller, signalId: number, says: string) => {
    rulesChanged()
    const device = registry.get(registry.signal(signalId)?.address ?? '')
    await events.write({ kind: 'rule', at: now(), caller, deviceId: device?.id ?? null, signalId, says })
  }

  binder.bind(routes.listRules, async ({ caller }) => {
    const rules = (await standing(pool, siteOf)).filter(({ siteId }) =>
      mayAt(caller.access, 'viewer', siteId),
    )
    const signals = new Set(rules.map(({ signalId }) => signalId))
    return { rules, holds: await holdsOf(pool, [...signals], now()) }
  })

  binder.bind(routes.createRule, async ({ params: { signalId }, body, caller }) => {
    const id = await ruleBook.create(signalId, body)
    await tell(caller, signalId, `The rule “${body.name.trim()}” was made. It is off.`)
    return find(id)
  })

  binder.bind(routes.changeRule, async ({ params: { ruleId }, body, caller }) => {
    await ruleBook.change(ruleId, body)
    const changed = await find(ruleId)
    await tell(caller, changed.signalId, `The rule “${changed.name}” was changed.`)
    return changed
  })

  binder.bind(routes.deleteRule, async ({ params: { ruleId }, caller }) => {
    const { name, signalId } = await find(ruleId)
    await ruleBook.remove(ruleId)
    await tell(caller, signalId, `The rule “${name}” was deleted.`)
  })

  binder.bind(routes.switchRule, async ({ params: { ruleId }, body: { mode }, caller }) => {
    const { signalId, name, siteId } = await find(ruleId)
    const control = registry.signal(signalId)?.signal.definition.control ?? usualControl
    demand(caller, control.role, siteId, 'There is no such rule.')
    await ruleBook.switch(ruleId, mode)
    await tell(caller, signalId, `The rule “${name}” ${modeSays[mode]}.`)
    return find(ruleId)
  })

  binder.bind(routes.orderRules, async ({ params: { signalId }, body: { order, handFor }, caller }) => {
    await ruleBook.order(signalId, order, handFor)
    await tell(caller, signalId, 'Its rules were put in another order.')
  })

  binder.bind(routes.resumeRules, async ({ params: { signalId }, caller }) => {
    await ruleBook.resume(signalId)
    await tell(caller, signalId, 'It was given back to its rules.')
  })

  binder.bind(routes.listRuleActs, async ({ params: { ruleId }, query: { before } }) => {
    const { rows } = await pool.query<{
      id: number
      at: number
      kind: 'begins' | 'ends' | 'unknown' | 'known'
      isActing: boolean | null
      isTrial: boolean
      because: RuleCause[]
    }>(
      `select id, round(extract(epoch from at) * 1000)::float8 as at, kind, is_acting as "isActing",
         is_trial as "isTrial", because
       from rule_act where rule_id = $1 and ($2::int is null or id < $2) order by id desc limit ${mostActs}`,
      [ruleId, before ?? null],
    )
    return rows
  })

  binder.bind(routes.tryRule, async ({ params: { signalId }, body: { rule, from, to, ruleId } }) => {
    if (to <= from || to - from > longestTrial)
      throw new ProblemError(
        'invalid',
        'A rule is tried over a span that ends after it begins, of 92 days at most.',
      )
    const site = siteOf(signalId)
    for (const { name, signal } of rule.inputs)
      if (siteOf(signal) === undefined || siteOf(signal) !== site)
        throw new ProblemError('invalid', `"${name}" is no signal of the same site.`)
    return tryRule({ pool, registry, inputs: ruleInputs }, { signalId, rule, ruleId, from, to })
  })
}

const modeSays = {
  off: 'was switched off',
  trial: 'is on trial: it says what it would do, and does nothing',
  on: 'was switched on',
} as const

async function standing(
  pool: pg.Pool,
  siteOf: (signalId: number) => number | undefined,
  only?: readonly number[],
): Promise<StandingRule[]> {
  const loaded = await loadRules(pool, only ? 'rule.id = any($1::int[])' : 'true', only ? [only] : [])
  return loaded.flatMap(({ id, signalId, name, mode, rule, state }) => {
    const siteId = siteOf(signalId)
    const { isActing, isUnknown, changedAt } = state ?? newRuleState
    return siteId === undefined
      ? []
      : [
          {
            id,
            signalId,
            siteId,
            name,
            mode,
            rule,
            isActing,
            isUnknown,
            changedAt,
          },
        ]
  })
}

async function holdsOf(pool: pg.Pool, signals: readonly number[], now: number): Promise<RuleHold[]> {
  const { rows } = await pool.query<HoldRow>(
    `select signal_id as "signalId", rule_id as "ruleId", wish, round(extract(epoch from since) * 1000)::float8 as since,
       hand_for as "handFor", problem
     from rule_hold where signal_id = any($1::int[])`,
    [[...signals]],
  )
  const hands = await lastHands(
    pool,
    rows.map(({ signalId }) => signalId),
    now,
  )
  return rows.map((row) => ({ ...row, hand: hands.get(row.signalId) ?? null }))
}
