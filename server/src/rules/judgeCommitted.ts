import type { Heard } from '@jaunty-sparrow/core/rule'
import groupBy from 'lodash-es/groupBy.js'
import type pg from 'pg'
import type { Consumer } from '../afterCommit/consumers.ts'
import { committedBetween } from '../afterCommit/snapshots.ts'
import { allReadings } from '../derived/allReadings.ts'
import { askedInside } from '../derived/neededReadings.ts'
import { ChangeKind } from '../readings/changeMarks.ts'
import { judgeRules } from './judgeRules.ts'
import { loadRules, lockRules } from './loadRules.ts'
import type { RuleInputs } from './ruleInputs.ts'

interface JudgeCommittedParts {
  readonly inputs: RuleInputs
  /** Epoch ms. */
  readonly now: () => number
  /** Told when rules did something; what it does holds only once the transaction does. */
  readonly acted: () => void
}

/** An input of a rule that something was heard of, epoch ms. */
interface Touched {
  readonly signal: number
  readonly own: number | null
  readonly device: number | null
  readonly from: number | null
  readonly to: number | null
}

const ms = (instant: string): string => `round(extract(epoch from ${instant}) * 1000)::float8`

/** Of these kinds is what came in by itself. What a person brings from the past, and what is corrected, never acts. */
const cameIn = `${ChangeKind.added}, ${ChangeKind.maybeKnown}`

/** Judges the rules that look at what was committed. */
export const judgeCommitted = ({ inputs, now, acted }: JudgeCommittedParts): Consumer => ({
  name: 'rules',
  consume: async (client, { seen, now: until }) => {
    const { rows: touched } = await client.query<Touched>({
      name: 'touched-inputs-of-rules',
      text: `
        with mark as materialized (select * from after_commit mark where ${committedBetween(1)}),
        input as (select distinct signal_id as id, device_id from rule_input join signal on signal.id = signal_id
                  where exists (select 1 from mark)),
        turn as (select signal_id, max(at) as at from mark, unnest(mark.heard_signals, mark.heard_at) as t (signal_id, at)
                 group by signal_id),
        device as (select device_id as id, max(at) as at from turn join signal on signal.id = turn.signal_id
                   where device_id in (select device_id from input) group by device_id),
        span as (select signal_id, min(first_at) as first_at, max(last_at) as last_at
                 from mark, unnest(mark.signals, mark.from_at, mark.to_at) as t (signal_id, first_at, last_at)
                 where kind in (${cameIn}) group by signal_id)
        select input.id as signal, ${ms('turn.at')} as own, ${ms('device.at')} as device,
          ${ms('first_at')} as "from", ${ms('last_at')} as "to"
        from input left join turn on turn.signal_id = input.id left join device on device.id = input.device_id
          left join span on span.signal_id = input.id
        where device.at is not null or first_at is not null`,
      values: [seen, until],
    })
    if (touched.length === 0) return
    await lockRules(client)
    const signals = touched.map(({ signal }) => signal)
    const rules = await loadRules(
      client,
      `rule.mode <> 'off' and rule.id in (select rule_id from rule_input where signal_id = any($1::int[]))`,
      [signals],
    )
    if (rules.length === 0) return
    const heard = groupBy(await readingsOf(client, touched, inputs), ({ signal }) => signal)
    const bySignal = new Map(touched.map((each) => [each.signal, each]))
    const did = await judgeRules(client, rules, inputs, now(), (judge, { rule }) => {
      const own = rule.inputs.flatMap(({ signal }) => heard[signal] ?? [])
      for (const each of own.sort((a, b) => a.at - b.at)) judge.hear(each)
      for (const { signal } of rule.inputs) {
        const each = bySignal.get(signal)
        const at = each && inputs.heardAt(signal, each.own, each.device)
        if (at) judge.heardAgain(signal, at)
      }
    })
    if (did) acted()
  },
})

/** What inputs said, all of it, however much that is. */
async function readingsOf(
  client: pg.ClientBase,
  touched: readonly Touched[],
  inputs: RuleInputs,
): Promise<Heard[]> {
  const asked = touched.flatMap(({ signal, from, to }) =>
    from === null || to === null ? [] : [askedInside(signal, from, to)],
  )
  const read = (await allReadings(client, asked)) ?? []
  return asked.flatMap(({ signal }, place) =>
    (read[place] ?? []).map((row) => ({
      signal,
      at: row.at,
      heardAt: row.receivedAt,
      value: inputs.valueOf({ ...row, signal }),
    })),
  )
}
