import type { Subscription, WayKind } from '@jaunty-sparrow/contract'
import {
  inOrderOfPriority,
  mostLines,
  type NoticeKind,
  type NoticeLine,
  noticeText,
  retryAfter,
} from '@jaunty-sparrow/core/notice'
import type pg from 'pg'
import { hashToken, newToken } from '../secrets/token.ts'
import { inTransaction } from '../store/inTransaction.ts'

/** So many go out at once. */
const atOnce = 10
/** So long nobody else tries what is being sent, ms: longer than any sending takes. */
const lease = 120_000
const longestAnswer = 300

/** What goes out: the same however often it is tried. */
interface Outgoing {
  readonly uuid: string
  readonly subject: string
  readonly text: string
}

/** Sends a notice. @returns what came back; rejects where it was not taken */
export type SendNotice = (
  notice: Outgoing,
  to: {
    readonly target: string
    readonly secret: string | null
    readonly subscription: Subscription | null
  },
) => Promise<string>

interface SendParts {
  readonly pool: pg.Pool
  readonly senders: Readonly<Record<WayKind, SendNotice | undefined>>
  /** Where people reach the pages, such as https://creamery.example */
  readonly origin: () => string
  /** By which clock an alarm is told. */
  readonly zoneOf: (alarmId: string) => string
  /** Epoch ms. */
  readonly now: () => number
  /** 0 to 1 */
  readonly chance: () => number
}

interface Gathered {
  readonly id: number
  readonly uuid: string
  readonly kind: NoticeKind
  readonly wayKind: WayKind
}

interface Due extends Outgoing {
  readonly id: number
  readonly wayKind: WayKind
  readonly attempts: number
  readonly target: string | null
  readonly secret: string | null
  readonly subscription: Subscription | null
}

/** Sends what is due. @returns whether anything was */
export async function sendNotices(parts: SendParts): Promise<boolean> {
  const { pool, now } = parts
  await inTransaction(pool, (client) => writeWhatIsGathered(client, parts))
  // Taken before it is sent: whoever is killed in between leaves it to be tried again, with the same id.
  const { rows: due } = await pool.query<Due>(
    `with due as (
       select id from notice where state = 'waits' and due_at <= to_timestamp($1::float8 / 1000)
       order by due_at limit ${atOnce} for update skip locked
     )
     update notice set attempts = attempts + 1, due_at = to_timestamp(($1::float8 + ${lease}) / 1000)
     from due left join notice_way way on way.id = (select way_id from notice where id = due.id)
     where notice.id = due.id
     returning notice.id, uuid, subject, text, way_kind as "wayKind", attempts, way.target, way.secret, way.subscription`,
    [now()],
  )
  await Promise.all(due.map((notice) => send(parts, notice)))
  return due.length > 0
}

async function send({ pool, senders, now, chance }: SendParts, notice: Due): Promise<void> {
  const { id, wayKind, attempts, target, secret, subscription } = notice
  const sender = senders[wayKind]
  const failed = (error: unknown) => {
    const says = (error instanceof Error ? error.message : String(error)).slice(0, longestAnswer)
    const wait = retryAfter(attempts, chance())
    return pool.query(
      `update notice set answer = $2, state = $3, due_at = to_timestamp($4::float8 / 1000) where id = $1`,
      [id, says, wait === undefined ? 'given-up' : 'waits', wait === undefined ? null : now() + wait],
    )
  }
  if (target === null) {
    await pool.query(
      `update notice set state = 'given-up', answer = 'This way was deleted.', due_at = null where id = $1`,
      [id],
    )
    return
  }
  try {
    if (!sender) throw new Error('No server of mail is stated: set MAIL_URL and MAIL_FROM.')
    const answer = await sender(notice, { target, secret, subscription })
    await pool.query(
      `update notice set state = 'sent', sent_at = to_timestamp($2::float8 / 1000), answer = $3, due_at = null, token = null,
         text = case when token is null then text else replace(text, token, '…') end
       where id = $1`,
      [id, now(), answer.slice(0, longestAnswer)],
    )
  } catch (error) {
    await failed(error)
  }
}

/** What was gathered long enough says from now on what it says. */
async function writeWhatIsGathered(client: pg.ClientBase, parts: SendParts): Promise<void> {
  const { rows } = await client.query<Gathered>(
    `select id, uuid, kind, way_kind as "wayKind" from notice
     where state = 'gathers' and due_at <= to_timestamp($1::float8 / 1000) order by id limit ${atOnce} for update skip locked`,
    [parts.now()],
  )
  for (const gathered of rows) await write(client, parts, gathered)
}

async function write(
  client: pg.ClientBase,
  { origin, zoneOf, now }: SendParts,
  { id, uuid, kind, wayKind }: Gathered,
): Promise<void> {
  const { rows } = await client.query<{ line: NoticeLine; overAt: number | null }>(
    `select line, round(extract(epoch from over_at) * 1000)::float8 as "overAt" from notice_told
     where ${kind === 'over' ? 'over_notice_id' : 'notice_id'} = $1`,
    [id],
  )
  const lines = inOrderOfPriority(rows.map(({ line, overAt }) => ({ ...line, overAt })))
  const told = lines.slice(0, mostLines)
  const token = kind === 'alarm' ? newToken() : null
  const link = token === null ? null : `${origin()}/seen#${token}`
  const clock = clockOf(zoneOf(told[0]?.alarmId ?? ''))
  const { subject, text } = noticeText(kind, told, lines.length, clock, link)
  await client.query(
    `update notice set state = 'waits', subject = $2, text = $3, count = $4, token = $5, token_hash = $6 where id = $1`,
    [
      id,
      subject,
      wayKind === 'webhook'
        ? webhookBody(uuid, kind, now(), subject, told, lines.length, link)
        : wayKind === 'push'
          ? pushBody(subject, told[0]?.response ?? '', link ?? `${origin()}/guard`)
          : text,
      lines.length,
      token,
      token === null ? null : hashToken(token),
    ],
  )
}

/** What a browser is told, as JSON: it shows the first two, and opens the third. */
export const pushBody = (title: string, body: string, link: string): string =>
  JSON.stringify({ title, body, link })

/** What a webhook is told, as JSON. */
export const webhookBody = (
  id: string,
  kind: NoticeKind,
  at: number,
  says: string,
  alarms: readonly NoticeLine[],
  inAll: number,
  answerAt: string | null,
): string => JSON.stringify({ id, kind, at: new Date(at).toISOString(), says, inAll, alarms, answerAt })

function clockOf(timeZone: string): (at: number) => string {
  const format = new Intl.DateTimeFormat('en-GB', {
    timeZone,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  })
  return (at) => format.format(at)
}
