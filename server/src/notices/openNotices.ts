import type { SignalDefinition } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import type { AlarmBook } from '../alarms/alarmBook.ts'
import type { Config } from '../config.ts'
import { OneAtATime } from '../life/oneAtATime.ts'
import type { Opened } from '../life/opened.ts'
import { inTransaction } from '../store/inTransaction.ts'
import { gatherNotices } from './gatherNotices.ts'
import { mailSender } from './mail.ts'
import { contactOf, pushSender } from './push.ts'
import { SeenLinks } from './seenLinks.ts'
import { sendNotices } from './sendNotices.ts'
import { keysOf, type VapidKeys } from './vapidKeys.ts'
import { WayBook } from './wayBook.ts'
import { webhookSender } from './webhook.ts'

interface NoticesParts {
  readonly pool: pg.Pool
  readonly config: Pick<Config, 'mailUrl' | 'mailFrom'>
  readonly opened: Opened
  readonly alarmBook: AlarmBook
  readonly definitionOf: (signalId: number) => SignalDefinition | undefined
  readonly hub: { noticesChanged(): void }
  /** Where people reach the pages. */
  readonly origin: () => string
  /** Epoch ms. */
  readonly now: () => number
  /** 0 to 1 */
  readonly chance: () => number
}

/** All there is of notices, put together. */
export interface Notices {
  readonly wayBook: WayBook
  readonly seenLinks: SeenLinks
  readonly canMail: boolean
  readonly vapidKeys: () => Promise<VapidKeys>
  /** Looks who is to be told, and sends what is due. */
  readonly run: () => Promise<void>
  /** Whether a way keeps failing. */
  readonly isFailing: () => boolean
  /** Drops what was sent before an instant, epoch ms. */
  readonly forgetBefore: (instant: number) => Promise<void>
}

export function openNotices(parts: NoticesParts): Notices {
  const { pool, config, opened, alarmBook, hub, now } = parts
  const { mailUrl, mailFrom } = config
  const mail =
    mailUrl === undefined || mailFrom === undefined
      ? undefined
      : opened.add(mailSender(mailUrl, mailFrom), (it) => it.close())
  const vapidKeys = keysOf(pool)
  const senders = {
    mail: mail?.send,
    webhook: webhookSender(now),
    push: pushSender(vapidKeys, () => contactOf(mailFrom, parts.origin())),
  }
  const zones = new Map<number, string>()
  const zoneOf = (alarmId: string) =>
    zones.get(alarmBook.stated.get(alarmId)?.device?.siteId ?? 0) ?? [...zones.values()][0] ?? 'UTC'
  let isFailing = false
  const running = opened.add(
    new OneAtATime(async () => {
      const isGathered = await inTransaction(pool, (client) =>
        gatherNotices(client, { ...parts, standing: () => alarmBook.standing() }),
      )
      const { rows } = await pool.query<{ id: number; zone: string }>(
        'select id, time_zone as zone from site order by id',
      )
      for (const { id, zone } of rows) zones.set(id, zone)
      const isSent = await sendNotices({ ...parts, senders, zoneOf })
      if (isSent) isFailing = await keepsFailing(pool, now())
      if (isGathered || isSent) hub.noticesChanged()
    }),
    (it) => it.settled(),
  )
  return {
    wayBook: new WayBook(pool, now),
    seenLinks: new SeenLinks(parts),
    canMail: mail !== undefined,
    vapidKeys,
    run: () => running.again(),
    isFailing: () => isFailing,
    forgetBefore: async (instant) => {
      await pool.query('delete from notice where created_at < to_timestamp($1::float8 / 1000)', [instant])
    },
  }
}

/** After so many attempts it is no hiccup. */
const hiccups = 3

async function keepsFailing(pool: pg.Pool, now: number): Promise<boolean> {
  const { rows } = await pool.query<{ is: boolean }>(
    `select exists (select 1 from notice where attempts >= ${hiccups}
       and (state = 'waits' or (state = 'given-up' and created_at > to_timestamp($1::float8 / 1000) - interval '1 day'))) as is`,
    [now],
  )
  return rows[0]?.is ?? false
}
