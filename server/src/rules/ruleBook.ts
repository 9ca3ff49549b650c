import type { RuleMode } from '@jaunty-sparrow/contract'
import { wishProblem } from '@jaunty-sparrow/core/command'
import { type Rule, ruleProblem } from '@jaunty-sparrow/core/rule'
import type { Reading } from '@jaunty-sparrow/core/signal'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { drizzle } from 'drizzle-orm/node-postgres'
import type pg from 'pg'
import { refuseCycle } from '../derived/refuseCycle.ts'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { inTransaction } from '../store/inTransaction.ts'
import { beginRule } from './beginRules.ts'
import { lockRules } from './loadRules.ts'
import type { RuleInputs } from './ruleInputs.ts'
import { writeHolds } from './writeHolds.ts'

/** So many rules may one signal have. */
const mostOfSignal = 20

export interface RuleBookParts {
  readonly pool: pg.Pool
  readonly registry: DeviceRegistry
  readonly inputs: RuleInputs
  readonly latest: { of(signal: number): Reading | undefined }
  /** Epoch ms. */
  readonly now: () => number
}

export interface NamedRule {
  readonly name: string
  readonly rule: Rule
}

/** Keeps rules: what is said of them, whether they are obeyed, and in which order. */
export class RuleBook {
  readonly #parts: RuleBookParts

  constructor(parts: RuleBookParts) {
    this.#parts = parts
  }

  /** Takes down a new rule of a signal, behind the others, off. @returns its number */
  create(signalId: number, named: NamedRule): Promise<number> {
    this.#check(signalId, named.rule)
    return this.#alone(async (client) => {
      const { rows: there } = await client.query<{ count: number; last: number }>(
        'select count(*)::int as count, coalesce(max(place), 0) as last from rule where signal_id = $1',
        [signalId],
      )
      const { count = 0, last = 0 } = there[0] ?? {}
      if (count >= mostOfSignal)
        throw new ProblemError(
          'conflict',
          `This signal has ${mostOfSignal} rules, and more are not kept. Delete one first.`,
        )
      const { rows } = await client.query<{ id: number }>(
        `insert into rule (signal_id, name, place, mode, rule) values ($1, $2, $3, 'off', $4) returning id`,
        [signalId, named.name.trim(), last + 1, named.rule],
      )
      const id = rows[0]?.id ?? 0
      await this.#link(client, id, named.rule)
      return id
    })
  }

  /** Says otherwise what a rule is: it begins anew. */
  change(ruleId: number, named: NamedRule): Promise<void> {
    return this.#alone(async (client) => {
      const signalId = await this.#signalOf(client, ruleId)
      this.#check(signalId, named.rule)
      await client.query('update rule set name = $2, rule = $3 where id = $1', [
        ruleId,
        named.name.trim(),
        named.rule,
      ])
      await client.query('delete from rule_input where rule_id = $1', [ruleId])
      await client.query('delete from rule_state where rule_id = $1', [ruleId])
      await this.#link(client, ruleId, named.rule)
      await this.#begin(client, ruleId)
    })
  }

  switch(ruleId: number, mode: RuleMode): Promise<void> {
    return this.#alone(async (client) => {
      const signalId = await this.#signalOf(client, ruleId)
      const { rows } = await client.query<{ before: RuleMode }>(
        `update rule set mode = $2 from (select mode as before from rule where id = $1) was where id = $1 returning before`,
        [ruleId, mode],
      )
      // Between trial and on it goes on as it was.
      if (mode === 'off') await client.query('delete from rule_state where rule_id = $1', [ruleId])
      if (mode === 'off' || rows[0]?.before !== 'off') await writeHolds(client, [signalId], this.#parts.now())
      else await this.#begin(client, ruleId)
    })
  }

  remove(ruleId: number): Promise<void> {
    return this.#alone(async (client) => {
      const signalId = await this.#signalOf(client, ruleId)
      await client.query('delete from rule where id = $1', [ruleId])
      await writeHolds(client, [signalId], this.#parts.now())
    })
  }

  /** Says which of the rules of a signal is obeyed first, and how long a hand comes before all of them, s. */
  order(signalId: number, order: readonly number[], handFor: number): Promise<void> {
    return this.#alone(async (client) => {
      const { rows } = await client.query<{ id: number }>('select id from rule where signal_id = $1', [
        signalId,
      ])
      const known = new Set(rows.map(({ id }) => id))
      if (known.size !== order.length || order.some((id) => !known.has(id)))
        throw new ProblemError(
          'conflict',
          'These are not the rules of the signal: some came or went meanwhile.',
        )
      await client.query(
        'update rule set place = new.place from unnest($1::int[]) with ordinality as new (id, place) where rule.id = new.id',
        [order],
      )
      const now = this.#parts.now()
      await writeHolds(client, [signalId], now)
      await client.query('update rule_hold set hand_for = $2 where signal_id = $1', [signalId, handFor])
    })
  }

  /** Gives a signal back to its rules: the hand that was on it comes first no more. */
  async resume(signalId: number): Promise<void> {
    await this.#parts.pool.query(
      `update rule_hold set resumed_at = to_timestamp($2::float8 / 1000), asked_at = null where signal_id = $1`,
      [signalId, this.#parts.now()],
    )
  }

  #alone<T>(work: (client: pg.ClientBase) => Promise<T>): Promise<T> {
    return inTransaction(this.#parts.pool, async (client) => {
      await lockRules(client)
      return work(client)
    })
  }

  #begin(client: pg.ClientBase, ruleId: number): Promise<void> {
    const { inputs, latest, now } = this.#parts
    return beginRule(client, ruleId, inputs, latest, now())
  }

  async #signalOf(client: pg.ClientBase, ruleId: number): Promise<number> {
    const { rows } = await client.query<{ signal_id: number }>('select signal_id from rule where id = $1', [
      ruleId,
    ])
    const found = rows[0]?.signal_id
    if (found === undefined) throw new ProblemError('not-found', 'There is no such rule.')
    return found
  }

  async #link(client: pg.ClientBase, ruleId: number, rule: Rule): Promise<void> {
    await client.query(
      'insert into rule_input (rule_id, signal_id) select distinct $1::int, unnest($2::int[])',
      [ruleId, rule.inputs.map(({ signal }) => signal)],
    )
    await refuseCycle(drizzle(client as never))
  }

  /** @throws ProblemError in words */
  #check(signalId: number, rule: Rule): void {
    const { registry } = this.#parts
    const target = registry.signal(signalId)
    const device = registry.get(target?.address ?? '')
    if (!target || !device) throw new ProblemError('not-found', 'There is no such signal.')
    const { definition } = target.signal
    const control = definition.control ?? usualControl
    const problem =
      ruleProblem(rule) ??
      wishProblem(rule.value, { ...definition, control }) ??
      (rule.otherwise === null ? undefined : wishProblem(rule.otherwise, { ...definition, control }))
    if (problem) throw new ProblemError('invalid', problem)
    for (const { name, signal } of rule.inputs) {
      const input = registry.signal(signal)
      const siteId = registry.get(input?.address ?? '')?.siteId
      if (!input || siteId !== device.siteId)
        throw new ProblemError('invalid', `"${name}" is no signal of the same site.`)
      if (!['number', 'switch', 'choice'].includes(input.signal.definition.kind))
        throw new ProblemError(
          'invalid',
          `"${name}" is ${input.signal.definition.name}: a rule looks at numbers, switches and choices.`,
        )
    }
  }
}
