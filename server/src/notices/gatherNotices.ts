import { randomUUID } from 'node:crypto'
import type { StandingAlarm, WayKind } from '@jaunty-sparrow/contract'
import { alarmTitle, valueWords } from '@jaunty-sparrow/core/alarm'
import { isTime, type NoticeKind, type NoticeLine, type Telling } from '@jaunty-sparrow/core/notice'
import type { SignalDefinition } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'

/** What comes so soon after another is told with it, ms. */
const together = 5000
/** So long after a notice the next one is sent at the soonest, ms. */
const apart = 60_000
/** All that is done with what is to be told is done by one server at a time. */
const gatherLock = 7_600_021

interface Way {
  readonly id: number
  readonly siteId: number | null
  readonly kind: WayKind
  readonly name: string
  readonly tellings: readonly Telling[]
}

interface GatherParts {
  /** All alarms that are not at rest. */
  readonly standing: () => Promise<readonly StandingAlarm[]>
  readonly definitionOf: (signalId: number) => SignalDefinition | undefined
  /** Epoch ms. */
  readonly now: () => number
}

/**
 * Looks who has to be told of what, inside a transaction: of each alarm that nobody has seen, each way is told once, and once more
 * when it is over. It goes by what is the case, so that nothing depends on having looked at the right moment.
 * @returns whether anything is to be told
 */
export async function gatherNotices(client: pg.ClientBase, parts: GatherParts): Promise<boolean> {
  const { rows: locks } = await client.query<{ free: boolean }>(
    'select pg_try_advisory_xact_lock($1) as free',
    [gatherLock],
  )
  if (!locks[0]?.free) return false
  const { rows: ways } = await client.query<Way>(
    'select id, site_id as "siteId", kind, name, tellings from notice_way',
  )
  if (ways.length === 0) return false
  const isTold = await tellOfNew(client, ways, parts)
  return (await tellWhatIsOver(client, ways, parts.now())) || isTold
}

async function tellOfNew(client: pg.ClientBase, ways: readonly Way[], parts: GatherParts): Promise<boolean> {
  const { standing, definitionOf, now } = parts
  const waiting = (await standing()).filter(
    ({ state, causedBy, raisedAt }) =>
      (state === 'unacknowledged' || state === 'returned') && causedBy === null && raisedAt !== null,
  )
  if (waiting.length === 0) return false
  const { rows } = await client.query<{ key: string }>(
    `select way_id || ' ' || alarm_id || ' ' || round(extract(epoch from raised_at) * 1000)::int8 as key
     from notice_told where alarm_id = any($1)`,
    [waiting.map(({ id }) => id)],
  )
  const known = new Set(rows.map(({ key }) => key))
  const { rows: zones } = await client.query<{ id: number; zone: string }>(
    'select id, time_zone as zone from site',
  )
  const zoneOf = new Map(zones.map(({ id, zone }) => [id, zone]))
  const at = now()
  let isAny = false
  for (const way of ways) {
    const fresh = waiting.filter(
      (alarm) =>
        !known.has(`${way.id} ${alarm.id} ${alarm.raisedAt}`) &&
        (way.siteId === null || way.siteId === alarm.siteId) &&
        way.tellings.some((telling) => isDue(telling, alarm, at, zoneOf.get(alarm.siteId ?? 0) ?? 'UTC')),
    )
    if (fresh.length === 0) continue
    isAny = true
    const noticeId = await gathering(client, way, 'alarm', at)
    const lines = fresh.map((alarm) => lineOf(alarm, definitionOf))
    await client.query(
      `insert into notice_told (way_id, alarm_id, raised_at, notice_id, line)
       select $1, line->>'alarmId', to_timestamp((line->>'raisedAt')::float8 / 1000), $2, line
       from jsonb_array_elements($3::jsonb) as line on conflict do nothing`,
      [way.id, noticeId, JSON.stringify(lines)],
    )
  }
  return isAny
}

/** What is waited with is told only while nobody has seen it and it goes on. */
function isDue(telling: Telling, alarm: StandingAlarm, at: number, zone: string): boolean {
  const { priorities, wait } = telling
  if (!priorities.includes(alarm.alarm.priority)) return false
  if (wait > 0 && (alarm.state !== 'unacknowledged' || at < (alarm.raisedAt ?? at) + wait * 1000))
    return false
  return isTime(telling, at, zone)
}

function lineOf(
  { id, subject, alarm, value, limit, signalId, raisedAt }: StandingAlarm,
  definitionOf: GatherParts['definitionOf'],
): NoticeLine {
  const definition = signalId === null ? undefined : definitionOf(signalId)
  return {
    alarmId: id,
    title: alarmTitle(subject, alarm, definition),
    says: valueWords(value, limit, definition),
    priority: alarm.priority,
    consequence: alarm.consequence,
    response: alarm.response,
    timeToAct: alarm.timeToAct,
    raisedAt: raisedAt ?? 0,
    overAt: null,
  }
}

/** What was told of and is over: it is said once, unless it is still to be said that it began. What rests is over for nobody. */
async function tellWhatIsOver(client: pg.ClientBase, ways: readonly Way[], at: number): Promise<boolean> {
  const { rows } = await client.query<{ wayId: number; alarmId: string; raisedAt: string; isSaid: boolean }>(
    `update notice_told told set over_at = coalesce(ended.returned_at, to_timestamp($1::float8 / 1000))
     from (
       select told.way_id, told.alarm_id, told.raised_at, notice.state <> 'gathers' as is_said,
         case when alarm.returned_at >= told.raised_at then alarm.returned_at end as returned_at,
         alarm.id is not null and alarm.standing->>'shelf' is null and alarm.standing->>'outOfService' is null
           and not (alarm.standing->>'isSuppressed')::boolean as is_of_interest
       from notice_told told join notice on notice.id = told.notice_id left join alarm on alarm.id = told.alarm_id
       where told.over_at is null
         and (alarm.id is null or not (alarm.standing->>'isActive')::boolean or alarm.raised_at is distinct from told.raised_at
           or alarm.standing->>'shelf' is not null or alarm.standing->>'outOfService' is not null
           or (alarm.standing->>'isSuppressed')::boolean)
     ) ended
     where told.way_id = ended.way_id and told.alarm_id = ended.alarm_id and told.raised_at = ended.raised_at
     returning told.way_id as "wayId", told.alarm_id as "alarmId", told.raised_at::text as "raisedAt",
       ended.is_said and ended.is_of_interest as "isSaid"`,
    [at],
  )
  const said = rows.filter(({ isSaid }) => isSaid)
  for (const way of ways) {
    const over = said.filter(({ wayId }) => wayId === way.id)
    if (over.length === 0) continue
    const noticeId = await gathering(client, way, 'over', at)
    await client.query(
      `update notice_told set over_notice_id = $1 from unnest($3::text[], $4::text[]) as over (alarm, raised)
       where way_id = $2 and alarm_id = over.alarm and raised_at = over.raised::timestamptz`,
      [noticeId, way.id, over.map(({ alarmId }) => alarmId), over.map(({ raisedAt }) => raisedAt)],
    )
  }
  return said.length > 0
}

/** The notice of a way that what is told now is told with. @returns its number */
async function gathering(client: pg.ClientBase, way: Way, kind: NoticeKind, at: number): Promise<number> {
  const { rows } = await client.query<{ id: number }>(
    `insert into notice (uuid, way_id, way_name, way_kind, site_id, kind, state, created_at, due_at)
     values ($1, $2, $3, $4, $5, $6, 'gathers', to_timestamp($7::float8 / 1000),
       greatest(to_timestamp(($7::float8 + ${together}) / 1000),
         (select max(sent_at) from notice where way_id = $2 and kind <> 'test') + interval '${apart} milliseconds'))
     on conflict (way_id, kind) where state = 'gathers' do update set way_name = excluded.way_name returning id`,
    [randomUUID(), way.id, way.name, way.kind, way.siteId, kind, at],
  )
  if (!rows[0]) throw new Error('the notice was not returned by the insert')
  return rows[0].id
}
