import { holderOf, wishOf } from '@jaunty-sparrow/core/rule'
import type { SignalValue } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import { loadRules } from './loadRules.ts'

/**
 * Works out what the rules of some signals come to, inside a transaction that holds the lock of rules. Where they come to something
 * else than before, that waits to be asked for.
 * @param now epoch ms
 */
export async function writeHolds(
  client: pg.ClientBase,
  signals: readonly number[],
  now: number,
): Promise<void> {
  const rules = await loadRules(client, `rule.mode = 'on' and rule.signal_id = any($1::int[])`, [signals])
  const held = signals.map((signal) => {
    const own = rules.filter(({ signalId }) => signalId === signal)
    const wishes = own.map(({ id, rule, state }) => ({ id, wish: wishOf(rule, state?.isActing ?? null) }))
    return { signal, ...(holderOf(wishes) ?? { id: null, wish: null as SignalValue | null }) }
  })
  await client.query({
    name: 'write-rule-holds',
    text: `insert into rule_hold as hold (signal_id, rule_id, wish, since, turn)
           select signal, rule, wish, to_timestamp($4::float8 / 1000), 1
           from unnest($1::int[], $2::int[], $3::jsonb[]) as t (signal, rule, wish)
           on conflict (signal_id) do update set rule_id = excluded.rule_id,
             since = case when hold.wish is distinct from excluded.wish or hold.rule_id is distinct from excluded.rule_id
               then excluded.since else hold.since end,
             turn = hold.turn + case when hold.wish is distinct from excluded.wish then 1 else 0 end,
             problem = case when hold.wish is distinct from excluded.wish then '' else hold.problem end,
             wish = excluded.wish`,
    values: [
      held.map(({ signal }) => signal),
      held.map(({ id }) => id),
      held.map(({ wish }) => (wish === null ? null : JSON.stringify(wish))),
      now,
    ],
  })
}
