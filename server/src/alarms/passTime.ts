import type { Presence } from '@jaunty-sparrow/core/presence'
import type pg from 'pg'
import type { RuleInputs } from '../rules/ruleInputs.ts'
import { inTransaction } from '../store/inTransaction.ts'
import type { AlarmKeeper, AlarmsAtWork } from './alarmKeeper.ts'
import type { StatedAlarm } from './statedAlarms.ts'
import type { WatchedAlarm } from './watchedAlarm.ts'

interface PassTimeParts {
  readonly pool: pg.Pool
  readonly keeper: AlarmKeeper
  readonly inputs: RuleInputs
  /** How a signal of a device does. */
  readonly presenceOf: (signal: number) => Presence | undefined
  /** Whether something is the case of what is of no signal. */
  readonly isSo: (stated: StatedAlarm) => boolean
  /** Epoch ms. */
  readonly now: () => number
}

/** Lets time pass for alarms: what falls due is done, and who says nothing is noticed. */
export async function passTime(
  parts: PassTimeParts,
): Promise<{ readonly events: readonly number[]; readonly hasChanged: boolean } | undefined> {
  const { pool, keeper, inputs, now } = parts
  return inTransaction(pool, (client) =>
    keeper.work(client, 'skips', async (alarms) => {
      const at = now()
      look(parts, alarms, at)
      const due = [...alarms.all.values()].filter((alarm) => alarm.next() <= at)
      if (due.length === 0) return
      const heard = await heardAt(client, due, inputs)
      for (const alarm of due) {
        const { signal } = alarm.stated
        const isTold = alarm.stated.alarm.occasion.by === 'silence' || !signal
        alarm.pass(at, isTold ? undefined : heard.get(signal?.signal ?? 0))
      }
    }),
  )
}

/** Some alarms are about what is the case now, and not about what a reading says. */
function look({ presenceOf, isSo }: PassTimeParts, alarms: AlarmsAtWork, at: number): void {
  for (const alarm of alarms.all.values()) {
    const { signal, alarm: stated } = alarm.stated
    const { occasion } = stated
    if (signal && occasion.by === 'silence') {
      const presence = presenceOf(signal.signal)
      const isSilent = presence === 'silent' || (occasion.from === 'late' && presence === 'late')
      if (presence !== undefined) alarm.hear({ at, heardAt: at, value: isSilent ? 1 : 0 })
    } else if (!signal) alarm.hear({ at, heardAt: at, value: isSo(alarm.stated) ? 1 : 0 })
  }
}

async function heardAt(
  client: pg.ClientBase,
  due: readonly WatchedAlarm[],
  inputs: RuleInputs,
): Promise<Map<number, number>> {
  const signals = due.flatMap(({ stated }) => stated.signal?.signal ?? [])
  const { rows } = await client.query<{ signal: number; own: number | null; device: number | null }>({
    name: 'heard-of-alarms',
    text: `select signal.id as signal, round(extract(epoch from signal_heard.at) * 1000)::float8 as own,
             round(extract(epoch from heard.at) * 1000)::float8 as device
           from signal left join signal_heard on signal_heard.signal_id = signal.id left join heard using (device_id)
           where signal.id = any($1::int[])`,
    values: [signals],
  })
  return new Map(
    rows.flatMap(({ signal, own, device }) => {
      const at = inputs.heardAt(signal, own, device)
      return at === null ? [] : [[signal, at]]
    }),
  )
}
