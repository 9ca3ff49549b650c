import type { AlarmAct, AlarmMove, StandingAlarm } from '@jaunty-sparrow/contract'
import { type Move, readAlarmAddress } from '@jaunty-sparrow/core/alarm'
import type pg from 'pg'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { inTransaction } from '../store/inTransaction.ts'
import type { AlarmKeeper } from './alarmKeeper.ts'
import { writtenColumns } from './alarmStore.ts'
import type { BuiltInAlarms } from './builtInAlarms.ts'
import { inOrder, toldAlarm, withCauses } from './standingAlarms.ts'
import { type StatedAlarm, statedAlarms } from './statedAlarms.ts'
import type { WrittenAlarm } from './watchedAlarm.ts'

const mostActs = 100

interface AlarmBookParts {
  readonly pool: pg.Pool
  readonly registry: DeviceRegistry
  readonly keeper: AlarmKeeper
  readonly builtIn: BuiltInAlarms
  readonly changed: (done: { readonly events: readonly number[]; readonly hasChanged: boolean }) => void
  readonly tell: () => Promise<void>
  /** Epoch ms. */
  readonly now: () => number
}

/** What a person does with alarms. */
export interface PersonsMove {
  readonly move: AlarmMove
  /** Without a number where it is known by a link alone. */
  readonly person: { readonly id: number | null; readonly name: string }
  readonly word: string
  /** How long they rest, s. */
  readonly seconds: number
}

/** How an alarm did over a time. */
export interface AlarmRecord {
  readonly id: string
  readonly raised: number
  readonly seconds: number
  readonly fleeting: number
  readonly late: number
  readonly medianToWord: number | null
}

/** What is asked of alarms by people: how they stand, what happened to them, and what is done with them. */
export class AlarmBook {
  readonly #parts: AlarmBookParts
  #stated: Map<string, StatedAlarm> | undefined

  constructor(parts: AlarmBookParts) {
    this.#parts = parts
    parts.registry.onChange(() => {
      this.#stated = undefined
    })
  }

  /** All alarms that are stated, by their addresses. */
  get stated(): ReadonlyMap<string, StatedAlarm> {
    if (!this.#stated) {
      const { registry, builtIn } = this.#parts
      this.#stated = statedAlarms(registry)
      for (const each of builtIn.stated()) this.#stated.set(each.id, each)
    }
    return this.#stated
  }

  /** Those that are not at rest, those that wait for a word first; of all of them or of one. */
  async standing(): Promise<StandingAlarm[]> {
    const { pool, registry } = this.#parts
    const { rows } = await pool.query<WrittenAlarm>(`select ${writtenColumns} from alarm where not is_normal`)
    const told = rows.flatMap((row) => {
      const stated = this.stated.get(row.id)
      const isQuiet = row.standing.isSuppressed && !row.standing.isActive
      // What is suppressed and is not the case is of no interest to anybody.
      return stated && !isQuiet ? [toldAlarm(stated, row)] : []
    })
    return inOrder(withCauses(told, registry))
  }

  /** One alarm as it stands; undefined where there is none such. */
  async find(id: string): Promise<StandingAlarm | undefined> {
    const stated = this.stated.get(id)
    if (!stated) return undefined
    const { rows } = await this.#parts.pool.query<WrittenAlarm>(
      `select ${writtenColumns} from alarm where id = $1`,
      [id],
    )
    return toldAlarm(stated, rows[0])
  }

  /** Does something with alarms. @returns those it could be done with */
  async move(ids: readonly string[], { move, person, word, seconds }: PersonsMove): Promise<string[]> {
    const { pool, keeper, now, changed, tell } = this.#parts
    const at = now()
    const made: Move =
      move === 'shelve'
        ? { by: move, shelf: { until: at + seconds * 1000, by: person.name, why: word } }
        : move === 'take-out'
          ? { by: move, outOfService: { since: at, by: person.name, why: word } }
          : { by: move }
    const seen = move === 'acknowledge' ? { acknowledged: { at, person: person.name, word } } : {}
    const moved: string[] = []
    const done = await inTransaction(pool, (client) =>
      keeper.work(client, 'waits', (alarms) => {
        alarms.by({ person, word })
        for (const id of ids) if (alarms.all.get(id)?.move(made, at, seen)) moved.push(id)
      }),
    )
    if (done) changed(done)
    await tell()
    return moved
  }

  /** What happened to an alarm, the newest first. @param before only what has a lower number */
  async acts(id: string, before: number | undefined): Promise<AlarmAct[]> {
    const { rows } = await this.#parts.pool.query<AlarmAct>(
      `select id, alarm_id as "alarmId", round(extract(epoch from at) * 1000)::float8 as at, move, state, value,
         person_name as person, word, round(extract(epoch from until) * 1000)::float8 as until
       from alarm_act where alarm_id = $1 and ($2::int is null or id < $2) order by id desc limit ${mostActs}`,
      [id, before ?? null],
    )
    return rows
  }

  /** How alarms did since an instant, epoch ms. */
  async record(since: number): Promise<AlarmRecord[]> {
    const { rows } = await this.#parts.pool.query<AlarmRecord>({
      name: 'record-of-alarms',
      text: `
        with act as (
          select alarm_id, move, state, at, until,
            lead(at) over same as next_at
          from alarm_act where at >= to_timestamp($1::float8 / 1000) and move in ('raise', 'return', 'release', 'wake',
            'suppress', 'shelve', 'take-out', 'return-to-service', 'late')
          window same as (partition by alarm_id, move = 'late' order by id)
        ), word as (
          select alarm_id, percentile_cont(0.5) within group (order by extract(epoch from at - raised_at))::float8 as median
          from (
            select seen.alarm_id, seen.at, (select max(at) from alarm_act raised where raised.alarm_id = seen.alarm_id
              and raised.id < seen.id and raised.state = 'unacknowledged') as raised_at
            from alarm_act seen where seen.move = 'acknowledge' and seen.at >= to_timestamp($1::float8 / 1000)
          ) seen where raised_at is not null group by alarm_id
        )
        select act.alarm_id as id,
          count(*) filter (where state = 'unacknowledged' and move <> 'late')::int as raised,
          coalesce(sum(extract(epoch from coalesce(next_at, to_timestamp($2::float8 / 1000)) - at))
            filter (where state = 'unacknowledged' and move <> 'late'), 0)::float8 as seconds,
          count(*) filter (where state = 'unacknowledged' and move <> 'late' and next_at - at < interval '1 minute')::int
            as fleeting,
          count(*) filter (where move = 'late')::int as late, max(word.median) as "medianToWord"
        from act left join word using (alarm_id) group by act.alarm_id`,
      values: [since, this.#parts.now()],
    })
    return rows.filter(({ id }) => readAlarmAddress(id))
  }
}
