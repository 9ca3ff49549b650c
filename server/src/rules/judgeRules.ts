import { Judge, newRuleState, type RuleAct, type RuleState } from '@jaunty-sparrow/core/rule'
import type pg from 'pg'
import type { RuleCause } from '../store/schema.ts'
import type { LoadedRule } from './loadRules.ts'
import type { RuleInputs } from './ruleInputs.ts'
import { writeHolds } from './writeHolds.ts'

/**
 * Judges rules inside a transaction that holds the lock of rules, and writes down how far they have come, what they did, and what
 * that comes to for the signals they ask.
 * @param work what there is to judge for each
 * @param now epoch ms
 * @returns whether any did something
 */
export async function judgeRules(
  client: pg.ClientBase,
  rules: readonly LoadedRule[],
  inputs: RuleInputs,
  now: number,
  work: (judge: Judge, rule: LoadedRule) => void,
): Promise<boolean> {
  const written: { readonly id: number; readonly state: RuleState; readonly next: number | null }[] = []
  const acts: { readonly rule: LoadedRule; readonly act: RuleAct; readonly because: RuleCause[] }[] = []
  const changed = new Set<number>()
  for (const rule of rules) {
    const did: RuleAct[] = []
    const around = { ...rule.where, countsFor: inputs.countsFor }
    const judge = new Judge(rule.rule, around, rule.state ?? newRuleState, (act) => did.push(act))
    const before = judge.isActing
    work(judge, rule)
    const state = judge.state()
    written.push({ id: rule.id, state, next: judge.next() })
    for (const act of did) acts.push({ rule, act, because: causesOf(rule, act, state, inputs) })
    if (did.length > 0 || judge.isActing !== before) changed.add(rule.signalId)
  }
  if (written.length === 0) return false
  await client.query({
    name: 'write-rule-states',
    text: `insert into rule_state (rule_id, state, next_at)
           select id, state, to_timestamp(next / 1000) from unnest($1::int[], $2::jsonb[], $3::float8[]) as t (id, state, next)
           on conflict (rule_id) do update set state = excluded.state, next_at = excluded.next_at`,
    values: [
      written.map(({ id }) => id),
      written.map(({ state }) => JSON.stringify(state)),
      written.map(({ next }) => next),
    ],
  })
  if (acts.length > 0)
    await client.query({
      name: 'write-rule-acts',
      text: `insert into rule_act (rule_id, at, kind, is_acting, is_trial, because)
             select id, to_timestamp(at / 1000), kind, acting, trial, because
             from unnest($1::int[], $2::float8[], $3::text[], $4::boolean[], $5::boolean[], $6::jsonb[])
               as t (id, at, kind, acting, trial, because)`,
      values: [
        acts.map(({ rule }) => rule.id),
        acts.map(({ act }) => act.at),
        acts.map(({ act }) => act.kind),
        acts.map(({ act }) => act.isActing),
        acts.map(({ rule }) => rule.mode === 'trial'),
        acts.map(({ because }) => JSON.stringify(because)),
      ],
    })
  if (changed.size > 0) await writeHolds(client, [...changed], now)
  return changed.size > 0
}

const causesOf = (
  { rule }: LoadedRule,
  { because }: RuleAct,
  { said }: RuleState,
  inputs: RuleInputs,
): RuleCause[] =>
  rule.inputs.map(({ name, signal }) => ({
    signalId: signal,
    name: inputs.nameOf(signal),
    value: because[name] ?? null,
    at: said[signal]?.at ?? null,
  }))
