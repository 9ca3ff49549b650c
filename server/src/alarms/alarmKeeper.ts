import { alarmTitle, valueWords } from '@jaunty-sparrow/core/alarm'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RuleInputs } from '../rules/ruleInputs.ts'
import {
  type Act,
  type AlarmEvent,
  readAlarms,
  writeActs,
  writeAlarmEvents,
  writeAlarms,
} from './alarmStore.ts'
import { type StatedAlarm, statedAlarms } from './statedAlarms.ts'
import { type Happened, judgedBy, WatchedAlarm } from './watchedAlarm.ts'

/** Where nobody looked for longer than this, or the clock was set back as far, it goes on anew, ms. */
const away = 60_000
/** So often it is written down that somebody looks, ms. */
const writtenEvery = 10_000

interface AlarmKeeperParts {
  readonly registry: DeviceRegistry
  readonly inputs: RuleInputs
  readonly latest: { of(signal: number): Reading | undefined }
  /** Alarms that are of no signal: those of devices and of the server. */
  readonly others: () => Iterable<StatedAlarm>
  /** Epoch ms. */
  readonly now: () => number
}

/** Who does something, and what they say. */
export interface By {
  /** Without a number where it is known by a link alone. */
  readonly person: { readonly id: number | null; readonly name: string }
  readonly word: string
}

/** All alarms while they are watched, as whoever works with them finds them. */
export interface AlarmsAtWork {
  readonly all: ReadonlyMap<string, WatchedAlarm>
  /** Those that are about readings of a signal. */
  readonly ofSignal: ReadonlyMap<number, readonly WatchedAlarm[]>
  /** Those whose formulas are over a signal. */
  readonly overSignal: ReadonlyMap<number, readonly WatchedAlarm[]>
  /** Says who does what is done next. */
  by(by: By): void
}

/**
 * Keeps all alarms in memory as they are written: one server at a time works with them, in a transaction that holds together with
 * what it follows from. Whoever finds that another one wrote in between, or that its own transaction came to nothing, reads anew.
 */
export class AlarmKeeper {
  readonly #parts: AlarmKeeperParts
  /** The count of what is in memory; undefined where it has to be read. */
  #turn: number | undefined
  #alarms = new Map<string, WatchedAlarm>()
  #ofSignal = new Map<number, WatchedAlarm[]>()
  #overSignal = new Map<number, WatchedAlarm[]>()
  #isStale = true
  #acts: Act[] = []
  /** Where each stretch that was learned late stands among them. */
  readonly #late = new Map<string, number>()
  #by: By | undefined

  constructor(parts: AlarmKeeperParts) {
    this.#parts = parts
    parts.registry.onChange(() => {
      this.#isStale = true
    })
  }

  /**
   * Works with alarms, inside a transaction.
   * @param patience whether it waits for another server that is at it
   * @returns the numbers of the dated events that were written, and whether anything happened; undefined where another was at it
   */
  async work(
    client: pg.ClientBase,
    patience: 'waits' | 'skips',
    does: (alarms: AlarmsAtWork) => Promise<void> | void,
  ): Promise<{ readonly events: readonly number[]; readonly hasChanged: boolean } | undefined> {
    const now = this.#parts.now()
    const { rows } = await client.query<{ turn: string; lookedAt: number }>(
      `select turn, round(extract(epoch from looked_at) * 1000)::float8 as "lookedAt" from alarm_turn where id = 1
       for update ${patience === 'skips' ? 'skip locked' : ''}`,
    )
    const [row] = rows
    if (!row) return undefined
    const turn = Number(row.turn)
    // It is set when the transaction has come to its end here; where it fails later, the count in the database stays behind.
    const known = this.#turn
    this.#turn = undefined
    this.#acts = []
    this.#late.clear()
    this.#by = undefined
    if (known !== turn) await this.#read(client, now)
    else if (this.#isStale) await this.#restate(client, now)
    if (Math.abs(now - row.lookedAt) > away) for (const alarm of this.#alarms.values()) alarm.goOn(now)
    await does({
      all: this.#alarms,
      ofSignal: this.#ofSignal,
      overSignal: this.#overSignal,
      by: (by) => {
        this.#by = by
      },
    })
    const changed = [...this.#alarms.values()].filter(({ isChanged }) => isChanged)
    const acts = this.#acts
    await writeAlarms(client, changed)
    await writeActs(client, acts)
    const { begun, over } = occurrencesOf(acts)
    const events = await writeAlarmEvents(client, begun, over)
    for (const alarm of changed) alarm.isChanged = false
    const isDue = Math.abs(now - row.lookedAt) >= writtenEvery
    const next = changed.length > 0 ? turn + 1 : turn
    if (changed.length > 0 || isDue)
      await client.query(
        'update alarm_turn set turn = $1, looked_at = to_timestamp($2::float8 / 1000) where id = 1',
        [next, now],
      )
    this.#turn = next
    return { events, hasChanged: acts.length > 0 }
  }

  /** Reads how all stand, and what they are. */
  async #read(client: pg.ClientBase, now: number): Promise<void> {
    const written = await readAlarms(client)
    // Whose alarm went with its device while nobody looked is over.
    await client.query(
      `update dated_event set until = greatest(at, to_timestamp($1::float8 / 1000))
       where kind = 'alarm' and until is null and alarm_id is not null
         and not exists (select 1 from alarm where alarm.id = alarm_id)`,
      [now],
    )
    this.#alarms = new Map()
    await this.#build(client, written, now)
  }

  /** What alarms are is otherwise than it was: they stand as they stood. */
  async #restate(client: pg.ClientBase, now: number): Promise<void> {
    const written = new Map(Array.from(this.#alarms, ([id, alarm]) => [id, alarm.written()]))
    await this.#build(client, written, now)
  }

  async #build(
    client: pg.ClientBase,
    written: ReadonlyMap<string, ReturnType<WatchedAlarm['written']>>,
    now: number,
  ): Promise<void> {
    this.#isStale = false
    const { registry, inputs, latest, others } = this.#parts
    const stated = statedAlarms(registry)
    for (const each of others()) stated.set(each.id, each)
    const before = this.#alarms
    this.#alarms = new Map()
    this.#ofSignal = new Map()
    this.#overSignal = new Map()
    for (const [id, each] of stated) {
      const known = before.get(id)
      const row = written.get(id)
      const isSame = known !== undefined && known.judgedBy === judgedBy(each)
      const alarm = isSame
        ? known
        : new WatchedAlarm(each, row, {
            countsFor: inputs.countsFor,
            happened: (what) => this.#happened(what),
          })
      alarm.stated = each
      this.#alarms.set(id, alarm)
      if (each.signal) add(this.#ofSignal, each.signal.signal, alarm)
      for (const signal of new Set(alarm.inputs)) add(this.#overSignal, signal, alarm)
      if (!isSame && row?.judgedBy !== alarm.judgedBy) this.#beginAnew(alarm, latest, inputs, now)
    }
    const gone = [...written.keys()].filter((id) => !stated.has(id))
    if (gone.length === 0) return
    await client.query('delete from alarm where id = any($1)', [gone])
    await writeAlarmEvents(
      client,
      [],
      gone.map((id) => ({ id, at: now })),
    )
  }

  /** One that is new, or watched by something else: it is judged by what was said last. */
  #beginAnew(alarm: WatchedAlarm, latest: AlarmKeeperParts['latest'], inputs: RuleInputs, now: number): void {
    alarm.isChanged = true
    for (const signal of alarm.inputs) {
      const reading = latest.of(signal)
      if (reading)
        alarm.hearInput({
          signal,
          at: Math.min(reading.at, now),
          heardAt: Math.max(reading.receivedAt, now),
          value: inputs.valueOf(reading),
        })
    }
    const { signal, alarm: what } = alarm.stated
    if (!signal || what.occasion.by === 'silence' || what.occasion.by === 'rate') return
    const reading = latest.of(signal.signal)
    if (reading) alarm.reconsider(now, { at: reading.at, value: inputs.valueOf(reading) })
  }

  #happened(what: Happened): void {
    const act = {
      ...what,
      state: what.alarm.state,
      person: this.#by?.person ?? null,
      word: this.#by?.word ?? '',
    }
    // What is learned late is learned reading by reading: it is one stretch all the same.
    const stretch = what.move === 'late' ? `${what.alarm.id} ${what.at}` : undefined
    const before = stretch === undefined ? undefined : this.#late.get(stretch)
    if (before !== undefined) this.#acts[before] = act
    else {
      if (stretch !== undefined) this.#late.set(stretch, this.#acts.length)
      this.#acts.push(act)
    }
  }
}

function add(map: Map<number, WatchedAlarm[]>, signal: number, alarm: WatchedAlarm): void {
  const there = map.get(signal)
  if (there) there.push(alarm)
  else map.set(signal, [alarm])
}

/** What acts come to where time is drawn: what has begun, perhaps over already, and what began before and is over. */
function occurrencesOf(acts: readonly Act[]): {
  readonly begun: readonly AlarmEvent[]
  readonly over: readonly { readonly id: string; readonly at: number }[]
} {
  const begun: AlarmEvent[] = []
  const over: { readonly id: string; readonly at: number }[] = []
  /** Where those that go on stand among what has begun. */
  const open = new Map<string, number>()
  for (const act of acts) {
    const { alarm, at, move, state, until } = act
    const place = open.get(alarm.id)
    if (move === 'late')
      begun.push({ alarm, at, until: until ?? at, says: `${saysOf(act)}; learned late`, isLate: true })
    else if (isOver.has(move)) {
      const there = place === undefined ? undefined : begun[place]
      if (place === undefined || !there) over.push({ id: alarm.id, at })
      else begun[place] = { ...there, until: at }
      open.delete(alarm.id)
    } else if (state === 'unacknowledged') {
      open.set(alarm.id, begun.length)
      begun.push({ alarm, at, until: null, says: saysOf(act), isLate: false })
    }
  }
  return { begun, over }
}

/** After these it is not the case any more, or nobody is asked about it. */
const isOver = new Set(['return', 'suppress', 'shelve', 'take-out'])

function saysOf({ alarm: { stated, limit, facts }, value }: Act): string {
  const definition = stated.signal?.definition
  const title = alarmTitle(definition?.name ?? stated.device?.name ?? 'The server', stated.alarm, definition)
  const words = valueWords(value ?? facts.value, limit, definition)
  return words === '' ? title : `${title}, ${words}`
}
