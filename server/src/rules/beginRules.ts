import { newRuleState, type Said } from '@jaunty-sparrow/core/rule'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import { judgeRules } from './judgeRules.ts'
import { loadRules } from './loadRules.ts'
import type { RuleInputs } from './ruleInputs.ts'

/**
 * Lets a rule begin, or begin anew, inside a transaction that holds the lock of rules: it knows what its inputs said last.
 * @param now epoch ms
 */
export async function beginRule(
  client: pg.ClientBase,
  ruleId: number,
  inputs: RuleInputs,
  latest: { of(signal: number): Reading | undefined },
  now: number,
): Promise<void> {
  const [loaded] = await loadRules(client, `rule.mode <> 'off' and rule.id = $1`, [ruleId])
  if (!loaded) return
  const signals = loaded.rule.inputs.map(({ signal }) => signal)
  const { rows } = await client.query<{ signal: number; own: number | null; device: number | null }>(
    `select signal.id as signal, round(extract(epoch from signal_heard.at) * 1000)::float8 as own,
       round(extract(epoch from heard.at) * 1000)::float8 as device
     from signal left join signal_heard on signal_heard.signal_id = signal.id left join heard using (device_id)
     where signal.id = any($1::int[])`,
    [signals],
  )
  const said: Record<number, Said> = {}
  for (const { signal, own, device } of rows) {
    const reading = latest.of(signal)
    if (!reading) continue
    const heardAt = Math.max(reading.receivedAt, inputs.heardAt(signal, own, device) ?? 0)
    said[signal] = { at: Math.min(reading.at, now), heardAt, value: inputs.valueOf(reading) }
  }
  // From now on somebody looks: should the server end before it does so itself, it is known since when nobody did.
  await client.query(
    `insert into rule_watch (id, looked_at) values (1, to_timestamp($1::float8 / 1000)) on conflict do nothing`,
    [now],
  )
  await judgeRules(client, [{ ...loaded, state: { ...newRuleState, said } }], inputs, now, (judge) =>
    judge.pass(now),
  )
}
