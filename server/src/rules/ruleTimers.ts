import type pg from 'pg'
import { inTransaction } from '../store/inTransaction.ts'
import { judgeRules } from './judgeRules.ts'
import { loadRules, tryLockRules } from './loadRules.ts'
import type { RuleInputs } from './ruleInputs.ts'

/** Where nobody looked for longer than this, ms, the server was away. */
const away = 60_000
/** So often it is written down that somebody looks, ms. */
const writtenEvery = 10_000

interface RuleTimersParts {
  readonly pool: pg.Pool
  readonly inputs: RuleInputs
  /** Epoch ms. */
  readonly now: () => number
  /** Told when rules did something. */
  readonly acted: () => void
}

/** Lets time pass for the rules that wait for it: what they wait for is in the database, and outlives every server. */
export class RuleTimers {
  readonly #parts: RuleTimersParts

  constructor(parts: RuleTimersParts) {
    this.#parts = parts
  }

  /** Judges what has fallen due; where another server is at rules it does so. */
  async run(): Promise<void> {
    const { pool, inputs, now, acted } = this.#parts
    const did = await inTransaction(pool, async (client) => {
      if (!(await tryLockRules(client))) return false
      const at = now()
      const wasAway = await this.#look(client, at)
      const due = wasAway
        ? ''
        : 'and (rule_state.rule_id is null or rule_state.next_at <= to_timestamp($1::float8 / 1000))'
      const rules = await loadRules(client, `rule.mode <> 'off' ${due}`, wasAway ? [] : [at])
      return judgeRules(client, rules, inputs, at, (judge) => (wasAway ? judge.goOn(at) : judge.pass(at)))
    })
    if (did) acted()
  }

  /** @returns whether nobody looked for a while, or the clock was set back as far */
  async #look(client: pg.ClientBase, at: number): Promise<boolean> {
    const { rows } = await client.query<{ at: number }>(
      'select round(extract(epoch from looked_at) * 1000)::float8 as at from rule_watch',
    )
    const before = rows[0]?.at
    if (before === undefined || Math.abs(at - before) >= writtenEvery)
      await client.query(
        `insert into rule_watch (id, looked_at) values (1, to_timestamp($1::float8 / 1000))
         on conflict (id) do update set looked_at = excluded.looked_at`,
        [at],
      )
    return before !== undefined && Math.abs(at - before) > away
  }
}
