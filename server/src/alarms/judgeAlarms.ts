import type { NumberReading } from '@jaunty-sparrow/core/derived'
import type pg from 'pg'
import type { Consumer } from '../afterCommit/consumers.ts'
import { committedBetween, type Snapshots } from '../afterCommit/snapshots.ts'
import { allReadings } from '../derived/allReadings.ts'
import { ChangeKind } from '../readings/changeMarks.ts'
import type { RuleInputs } from '../rules/ruleInputs.ts'
import type { AlarmKeeper, AlarmsAtWork } from './alarmKeeper.ts'

interface JudgeAlarmsParts {
  readonly keeper: AlarmKeeper
  readonly inputs: RuleInputs
  /** Told what was written of alarms; it holds only once the transaction does. */
  readonly changed: (what: { readonly events: readonly number[]; readonly hasChanged: boolean }) => void
}

/** A signal that something was committed of, and from when to when that was measured, epoch ms. */
interface Committed {
  readonly signal: number
  readonly from: number
  readonly to: number
}

const ms = (instant: string): string => `round(extract(epoch from ${instant}) * 1000)::float8`
/** Of these kinds is what came in by itself. What a person brings from the past, and what is corrected, raises nothing. */
const cameIn = `${ChangeKind.added}, ${ChangeKind.maybeKnown}`

/** Judges alarms by what was committed. */
export const judgeAlarms = ({ keeper, inputs, changed }: JudgeAlarmsParts): Consumer => ({
  name: 'alarms',
  consume: async (client, between) => {
    const done = await keeper.work(client, 'waits', async (alarms) => {
      const committed = await committedOf(client, between)
      const watched = committed.filter(
        ({ signal }) => alarms.ofSignal.has(signal) || alarms.overSignal.has(signal),
      )
      await hear(client, alarms, inputs, watched)
      await hearAgain(client, alarms, inputs, between)
    })
    if (done) changed(done)
  },
})

async function committedOf(client: pg.ClientBase, { seen, now }: Snapshots): Promise<Committed[]> {
  const { rows } = await client.query<[number, number, number]>({
    name: 'committed-for-alarms',
    text: `
      select signal_id, ${ms('min(first_at)')}, ${ms('max(last_at)')}
      from after_commit mark, unnest(mark.signals, mark.from_at, mark.to_at) as t (signal_id, first_at, last_at)
      where kind in (${cameIn}) and ${committedBetween(1)} group by signal_id`,
    values: [seen, now],
    rowMode: 'array',
  } as pg.QueryArrayConfig)
  return rows.map(([signal, from, to]) => ({ signal, from, to }))
}

async function hear(
  client: pg.ClientBase,
  alarms: AlarmsAtWork,
  inputs: RuleInputs,
  committed: readonly Committed[],
): Promise<void> {
  if (committed.length === 0) return
  const asked = committed.map(({ signal, from, to }) => {
    const before = from - longestSpan(alarms, signal) * 1000
    return { signal, after: before - 1, oldest: before, from, to }
  })
  const read = (await allReadings(client, asked)) ?? []
  for (const [place, { signal, from }] of committed.entries()) {
    const readings = read[place] ?? []
    for (const alarm of alarms.ofSignal.get(signal) ?? []) {
      const { by } = alarm.stated.alarm.occasion
      if (by === 'silence' || by === 'formula') continue
      for (const row of readings) {
        const value = inputs.valueOf({ ...row, signal })
        if (row.at >= from) alarm.hear({ at: row.at, heardAt: row.receivedAt, value })
        else alarm.follow(row.at, value)
      }
    }
  }
  hearInputs(alarms, inputs, committed, read)
}

/** How far back before what was committed matters, s: a change is measured over it, where nobody has followed it yet. */
function longestSpan(alarms: AlarmsAtWork, signal: number): number {
  let longest = 0
  for (const { swing } of alarms.ofSignal.get(signal) ?? [])
    if (swing?.to === null) longest = Math.max(longest, swing.over)
  return longest
}

/** Formulas are over several signals: what those said is heard in the order in which it was measured. */
function hearInputs(
  alarms: AlarmsAtWork,
  inputs: RuleInputs,
  committed: readonly Committed[],
  read: readonly (readonly NumberReading[])[],
): void {
  const heard = committed.flatMap(({ signal, from }, place) =>
    alarms.overSignal.has(signal)
      ? (read[place] ?? []).flatMap((row) =>
          row.at < from
            ? []
            : [{ signal, at: row.at, heardAt: row.receivedAt, value: inputs.valueOf({ ...row, signal }) }],
        )
      : [],
  )
  heard.sort((a, b) => a.at - b.at)
  for (const each of heard)
    for (const alarm of alarms.overSignal.get(each.signal) ?? []) alarm.hearInput(each)
}

/** What speaks only when something happens is heard to be as it was when its device speaks. */
async function hearAgain(
  client: pg.ClientBase,
  alarms: AlarmsAtWork,
  inputs: RuleInputs,
  { seen, now }: Snapshots,
): Promise<void> {
  const signals = [...alarms.overSignal.keys()]
  if (signals.length === 0) return
  const { rows } = await client.query<{ signal: number; own: number | null; device: number | null }>({
    name: 'heard-again-for-alarms',
    text: `
      with mark as materialized (select * from after_commit mark where ${committedBetween(1)}),
      turn as (select signal_id, max(at) as at from mark, unnest(mark.heard_signals, mark.heard_at) as t (signal_id, at)
               group by signal_id),
      input as (select id, device_id from signal where id = any($3::int[]) and exists (select 1 from turn)),
      device as (select device_id as id, max(at) as at from turn join signal on signal.id = turn.signal_id
                 where device_id in (select device_id from input) group by device_id)
      select input.id as signal, ${ms('turn.at')} as own, ${ms('device.at')} as device
      from input left join turn on turn.signal_id = input.id join device on device.id = input.device_id`,
    values: [seen, now, signals],
  })
  for (const { signal, own, device } of rows) {
    const at = inputs.heardAt(signal, own, device)
    if (at !== null) for (const alarm of alarms.overSignal.get(signal) ?? []) alarm.heardAgain(signal, at)
  }
}
