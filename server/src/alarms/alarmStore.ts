import type { stateOf } from '@jaunty-sparrow/core/alarm'
import type pg from 'pg'
import type { Happened, WatchedAlarm, WrittenAlarm } from './watchedAlarm.ts'

const instant = (column: string): string => `round(extract(epoch from ${column}) * 1000)::float8`

/** What is written of an alarm, told in epoch ms. */
export const writtenColumns = `alarm.id, alarm.judged_by as "judgedBy", alarm.standing, alarm.watch,
  ${instant('alarm.raised_at')} as "raisedAt", ${instant('alarm.returned_at')} as "returnedAt",
  ${instant('alarm.changed_at')} as "changedAt", alarm.value, alarm.worst, alarm."limit", alarm.acknowledged`

/** Reads how all alarms stand. */
export async function readAlarms(client: Pick<pg.ClientBase, 'query'>): Promise<Map<string, WrittenAlarm>> {
  const { rows } = await client.query<WrittenAlarm>(`select ${writtenColumns} from alarm`)
  return new Map(rows.map((row) => [row.id, row]))
}

/** Writes how alarms stand. */
export async function writeAlarms(client: pg.ClientBase, alarms: readonly WatchedAlarm[]): Promise<void> {
  if (alarms.length === 0) return
  const rows = alarms.map((alarm) => ({
    ...alarm.written(),
    signal: alarm.stated.signal?.signal ?? null,
    device: alarm.stated.device?.id ?? null,
    isNormal: alarm.state === 'normal',
  }))
  await client.query({
    name: 'write-alarms',
    text: `
      insert into alarm (id, signal_id, device_id, judged_by, standing, watch, is_normal, raised_at, returned_at, changed_at,
        value, worst, "limit", acknowledged)
      select id, signal, device, "judgedBy", standing, watch, "isNormal", to_timestamp("raisedAt" / 1000),
        to_timestamp("returnedAt" / 1000), to_timestamp("changedAt" / 1000), value, worst, "limit", acknowledged
      from jsonb_to_recordset($1::jsonb) as t (id text, signal int, device int, "judgedBy" text, standing jsonb, watch jsonb,
        "isNormal" boolean, "raisedAt" float8, "returnedAt" float8, "changedAt" float8, value float8, worst float8,
        "limit" float8, acknowledged jsonb)
      on conflict (id) do update set judged_by = excluded.judged_by, standing = excluded.standing, watch = excluded.watch,
        is_normal = excluded.is_normal, raised_at = excluded.raised_at, returned_at = excluded.returned_at,
        changed_at = excluded.changed_at, value = excluded.value, worst = excluded.worst, "limit" = excluded."limit",
        acknowledged = excluded.acknowledged`,
    values: [JSON.stringify(rows)],
  })
}

/** An act as it is written: what happened, how it stood then, and who did it and said what. */
export interface Act extends Happened {
  readonly state: ReturnType<typeof stateOf>
  readonly person: { readonly id: number | null; readonly name: string } | null
  readonly word: string
}

/** Writes down what happened to alarms. */
export async function writeActs(client: pg.ClientBase, acts: readonly Act[]): Promise<void> {
  if (acts.length === 0) return
  const rows = acts.map(({ alarm, at, move, value, until, state, person, word }) => ({
    id: alarm.id,
    at,
    move,
    state,
    value,
    person: person?.id ?? null,
    name: person?.name ?? null,
    word,
    until: until ?? null,
  }))
  await client.query({
    name: 'write-alarm-acts',
    text: `
      insert into alarm_act (alarm_id, at, move, state, value, person_id, person_name, word, until)
      select id, to_timestamp(at / 1000), move, state, value, person, name, word, to_timestamp(until / 1000)
      from jsonb_to_recordset($1::jsonb) as t (id text, at float8, move text, state text, value float8, person int, name text,
        word text, until float8)
      on conflict (alarm_id, at) where move = 'late' do update set value = excluded.value, until = excluded.until`,
    values: [JSON.stringify(rows)],
  })
}

/** An occurrence of an alarm, drawn wherever its time is drawn. Instants are epoch ms. */
export interface AlarmEvent {
  readonly alarm: WatchedAlarm
  readonly at: number
  /** When it was over; null while it goes on. */
  readonly until: number | null
  readonly says: string
  /** Whether it was learned late. */
  readonly isLate: boolean
}

/** Writes down occurrences; one that was written already is known further, or is over. @returns their numbers */
export async function writeAlarmEvents(
  client: pg.ClientBase,
  begun: readonly AlarmEvent[],
  over: readonly { readonly id: string; readonly at: number }[],
): Promise<number[]> {
  const { rows: ended } =
    over.length === 0
      ? { rows: [] }
      : await client.query<{ id: number }>({
          name: 'end-alarm-events',
          text: `update dated_event set until = greatest(dated_event.at, to_timestamp(ended.at / 1000))
                 from unnest($1::text[], $2::float8[]) as ended (id, at)
                 where alarm_id = ended.id and kind = 'alarm' and until is null returning dated_event.id`,
          values: [over.map(({ id }) => id), over.map(({ at }) => at)],
        })
  if (begun.length === 0) return ended.map(({ id }) => id)
  const rows = begun.map(({ alarm: { id, stated }, at, until, says, isLate }) => ({
    id,
    at,
    until,
    says,
    kind: isLate ? 'late-alarm' : 'alarm',
    site: stated.device?.siteId ?? null,
    device: stated.device?.id ?? null,
    signal: stated.signal?.signal ?? null,
  }))
  const { rows: written } = await client.query<{ id: number }>({
    name: 'write-alarm-events',
    text: `
      insert into dated_event (kind, alarm_id, at, until, says, site_id, device_id, signal_id)
      select kind, id, to_timestamp(at / 1000), to_timestamp(until / 1000), says, site, device, signal
      from jsonb_to_recordset($1::jsonb) as t (id text, kind text, at float8, until float8, says text, site int, device int, signal int)
      on conflict (alarm_id, kind, at) where alarm_id is not null
        do update set until = excluded.until, says = excluded.says returning id`,
    values: [JSON.stringify(rows)],
  })
  return [...ended, ...written].map(({ id }) => id)
}
