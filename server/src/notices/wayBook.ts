import { randomBytes, randomUUID } from 'node:crypto'
import type { Notice, Subscription, Way, WayKind } from '@jaunty-sparrow/contract'
import { noticeText, type Telling, tellingProblem } from '@jaunty-sparrow/core/notice'
import type pg from 'pg'
import { ProblemError } from '../http/problemResponse.ts'
import { pushBody, webhookBody } from './sendNotices.ts'

const mostListed = 100
/** So many ways may there be of one site. */
const mostWays = 100

/** What is said of a way. */
export interface StatedWay {
  readonly name: string
  readonly target: string
  readonly tellings: readonly Telling[]
}

const told = `way.id, way.site_id as "siteId", way.kind, way.name, way.target, way.tellings,
  case when last.state = 'sent' or last.attempts = 0 then null else last.answer end as failing,
  round(extract(epoch from coalesce(last.sent_at, last.created_at)) * 1000)::float8 as "lastAt"`
const from = `notice_way way left join lateral (
    select state, attempts, answer, sent_at, created_at from notice
    where way_id = way.id and attempts > 0 order by id desc limit 1) last on true`
const noticeColumns = `id, way_id as "wayId", way_name as "wayName", way_kind as "wayKind", kind, state, subject, count,
  round(extract(epoch from created_at) * 1000)::float8 as "createdAt",
  round(extract(epoch from sent_at) * 1000)::float8 as "sentAt",
  round(extract(epoch from due_at) * 1000)::float8 as "dueAt", attempts, answer,
  round(extract(epoch from seen_at) * 1000)::float8 as "seenAt"`

/** Keeps the ways by which people are told, and what was sent by them. */
export class WayBook {
  readonly #pool: pg.Pool
  readonly #now: () => number

  constructor(pool: pg.Pool, now: () => number) {
    this.#pool = pool
    this.#now = now
  }

  async list(): Promise<Way[]> {
    const { rows } = await this.#pool.query<Way>(
      `select ${told} from ${from} order by lower(way.name), way.id`,
    )
    return rows
  }

  async find(id: number): Promise<Way> {
    const { rows } = await this.#pool.query<Way>(`select ${told} from ${from} where way.id = $1`, [id])
    if (!rows[0]) throw new ProblemError('not-found', 'There is no such way.')
    return rows[0]
  }

  /** @returns the way, and what it is signed with where it is a webhook */
  async create(
    kind: WayKind,
    siteId: number | null,
    stated: StatedWay & { readonly subscription?: Subscription },
    personId: number,
  ): Promise<{ way: Way; secret: string | null }> {
    check(kind, stated)
    const problem = subscriptionProblem(kind, stated.subscription)
    if (problem !== undefined) throw new ProblemError('invalid', problem)
    const secret = kind === 'webhook' ? randomBytes(24).toString('base64') : null
    const { rows } = await this.#pool.query<{ id: number }>(
      `insert into notice_way (site_id, kind, name, target, secret, tellings, person_id, subscription)
       select $1::int, $2, $3, $4, $5, $6, $7, $8::jsonb
       where (select count(*) from notice_way where site_id is not distinct from $1::int) < ${mostWays} returning id`,
      [
        siteId,
        kind,
        stated.name.trim(),
        stated.target,
        secret,
        JSON.stringify(stated.tellings),
        personId,
        stated.subscription ? JSON.stringify(stated.subscription) : null,
      ],
    )
    if (!rows[0])
      throw new ProblemError(
        'conflict',
        `There are ${mostWays} ways of this site, and more are not kept. Delete one first.`,
      )
    return { way: await this.find(rows[0].id), secret }
  }

  async change(id: number, stated: StatedWay): Promise<Way> {
    check((await this.find(id)).kind, stated)
    await this.#pool.query('update notice_way set name = $2, target = $3, tellings = $4 where id = $1', [
      id,
      stated.name.trim(),
      stated.target,
      JSON.stringify(stated.tellings),
    ])
    return this.find(id)
  }

  async remove(id: number): Promise<void> {
    await this.#pool.query('delete from notice_way where id = $1', [id])
  }

  /** Writes a test down, to be sent at once. */
  async test(id: number): Promise<Notice> {
    const way = await this.find(id)
    const uuid = randomUUID()
    const now = this.#now()
    const { subject, text } = noticeText('test', [], 0, String, null)
    const body =
      way.kind === 'webhook'
        ? webhookBody(uuid, 'test', now, subject, [], 0, null)
        : way.kind === 'push'
          ? pushBody(subject, text.trim(), '/guard')
          : text
    const { rows } = await this.#pool.query<Notice>(
      `insert into notice (uuid, way_id, way_name, way_kind, site_id, kind, state, subject, text, created_at, due_at)
       values ($1, $2, $3, $4, $5, 'test', 'waits', $6, $7, to_timestamp($8::float8 / 1000), to_timestamp($8::float8 / 1000))
       returning ${noticeColumns}`,
      [uuid, id, way.name, way.kind, way.siteId, subject, body, now],
    )
    if (!rows[0]) throw new Error('the notice was not returned by the insert')
    return rows[0]
  }

  /** What was sent, the newest first; with the site it is of. @param before only what has a lower number */
  async notices(
    before: number | undefined,
    wayId: number | undefined,
  ): Promise<(Notice & { siteId: number | null })[]> {
    const { rows } = await this.#pool.query<Notice & { siteId: number | null }>(
      `select ${noticeColumns}, site_id as "siteId" from notice
       where ($1::int is null or id < $1) and ($2::int is null or way_id = $2) order by id desc limit ${mostListed}`,
      [before ?? null, wayId ?? null],
    )
    return rows
  }
}

/** @throws ProblemError in words */
function check(kind: WayKind, { target, tellings }: StatedWay): void {
  const problem =
    tellings.map(tellingProblem).find((each) => each !== undefined) ?? targetProblem(kind, target)
  if (problem !== undefined) throw new ProblemError('invalid', problem)
}

/** Pushes go over TLS; in the clear to this machine alone. */
function subscriptionProblem(kind: WayKind, subscription: Subscription | undefined): string | undefined {
  if ((kind === 'push') !== (subscription !== undefined))
    return kind === 'push'
      ? 'A push needs what the browser said of where it is pushed to.'
      : 'Only a push has a browser it goes to.'
  if (!subscription) return undefined
  if (!URL.canParse(subscription.endpoint))
    return 'What the browser said of where it is pushed to is no address.'
  const { protocol, hostname } = new URL(subscription.endpoint)
  const isHere = hostname === '127.0.0.1' || hostname === 'localhost'
  return protocol === 'https:' || isHere ? undefined : 'A browser is pushed to over https alone.'
}

function targetProblem(kind: WayKind, target: string): string | undefined {
  if (kind === 'mail')
    return /^[^\s@<>,;]+@[^\s@<>,;]+$/.test(target) ? undefined : `"${target}" is no address of mail.`
  if (kind === 'push') return undefined
  const isUrl = URL.canParse(target) && /^https?:$/.test(new URL(target).protocol)
  return isUrl ? undefined : `"${target}" is no address of a webhook: it begins with https:// or http://.`
}
