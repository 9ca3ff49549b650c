import type { ResponseOf, routes } from '@jaunty-sparrow/contract'
import { inOrderOfPriority, mostLines, type NoticeLine } from '@jaunty-sparrow/core/notice'
import type pg from 'pg'
import type { AlarmBook } from '../alarms/alarmBook.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { hashToken } from '../secrets/token.ts'

/** So long after it was made a link is good, ms. */
const goodFor = 7 * 86_400_000

interface SeenParts {
  readonly pool: pg.Pool
  readonly alarmBook: Pick<AlarmBook, 'move'>
  /** Epoch ms. */
  readonly now: () => number
}

interface Found {
  readonly id: number
  readonly wayName: string
  readonly usedAt: number | null
}

/** Lets alarms be acknowledged by the link that stands in a notice: it shows first what it is about, and works once. */
export class SeenLinks {
  readonly #parts: SeenParts

  constructor(parts: SeenParts) {
    this.#parts = parts
  }

  async read(token: string): Promise<ResponseOf<typeof routes.readSeenLink>> {
    const { id, wayName, usedAt } = await this.#find(token)
    const lines = await this.#lines(id)
    const inOrder = inOrderOfPriority(lines).slice(0, mostLines)
    const waiting = new Set(lines.filter(({ isWaiting }) => isWaiting).map(({ alarmId }) => alarmId))
    return {
      wayName,
      usedAt,
      inAll: lines.length,
      lines: inOrder.map(({ alarmId, ...line }) => ({ ...line, isWaiting: waiting.has(alarmId) })),
    }
  }

  /** @returns how many alarms waited for it */
  async use(token: string, word: string): Promise<number> {
    const { pool, alarmBook, now } = this.#parts
    const { id, wayName } = await this.#find(token)
    const { rowCount } = await pool.query(
      'update notice set seen_at = to_timestamp($2::float8 / 1000) where id = $1 and seen_at is null',
      [id, now()],
    )
    if (rowCount === 0) throw spent()
    const waiting = (await this.#lines(id)).filter(({ isWaiting }) => isWaiting)
    if (waiting.length === 0) return 0
    const moved = await alarmBook.move(
      waiting.map(({ alarmId }) => alarmId),
      { move: 'acknowledge', person: { id: null, name: wayName }, word, seconds: 0 },
    )
    return moved.length
  }

  /** What it told of; one that was raised anew since is another one. */
  async #lines(noticeId: number): Promise<(NoticeLine & { readonly isWaiting: boolean })[]> {
    const { rows } = await this.#parts.pool.query<{
      line: NoticeLine
      overAt: number | null
      isWaiting: boolean
    }>(
      `select told.line, round(extract(epoch from told.over_at) * 1000)::float8 as "overAt",
         coalesce((alarm.standing->>'isUnacknowledged')::boolean and alarm.raised_at = told.raised_at, false) as "isWaiting"
       from notice_told told left join alarm on alarm.id = told.alarm_id where told.notice_id = $1`,
      [noticeId],
    )
    return rows.map(({ line, overAt, isWaiting }) => ({ ...line, overAt, isWaiting }))
  }

  async #find(token: string): Promise<Found> {
    const { pool, now } = this.#parts
    const { rows } = await pool.query<Found>(
      `select id, way_name as "wayName", round(extract(epoch from seen_at) * 1000)::float8 as "usedAt" from notice
       where token_hash = $1 and created_at > to_timestamp(($2::float8 - ${goodFor}) / 1000)`,
      [hashToken(token), now()],
    )
    if (!rows[0]) throw spent()
    return rows[0]
  }
}

const spent = () =>
  new ProblemError(
    'link-spent',
    'This link was used already, or is too old. Sign in, and answer the alarms on their page.',
  )
