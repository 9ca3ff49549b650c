import type { Subscription, WayKind } from '@jaunty-sparrow/contract'
import type { NoticeKind, NoticeLine, Telling } from '@jaunty-sparrow/core/notice'
import { sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { bytea, createdAt, id, instant } from './columns.ts'
import { site } from './described.ts'
import { person } from './people.ts'

/** A way by which somebody is told. */
export const noticeWay = pgTable('notice_way', {
  id: id(),
  /** Of which site it tells; null for all. */
  siteId: integer('site_id').references(() => site.id, { onDelete: 'cascade' }),
  kind: text('kind').$type<WayKind>().notNull(),
  name: text('name').notNull(),
  target: text('target').notNull(),
  /** What a webhook is signed with; it is needed as it is, to sign. */
  secret: text('secret'),
  /** Where a browser is pushed to. */
  subscription: jsonb('subscription').$type<Subscription>(),
  tellings: jsonb('tellings').$type<readonly Telling[]>().notNull(),
  /** Who made it. */
  personId: integer('person_id').references(() => person.id, { onDelete: 'set null' }),
  createdAt: createdAt(),
})

/** What goes out, or went: it is written before anything is sent. */
export const notice = pgTable(
  'notice',
  {
    id: id(),
    /** What the other side knows it by, however often it is sent: of the Message-ID, and the id of a webhook. */
    uuid: text('uuid').notNull(),
    wayId: integer('way_id').references(() => noticeWay.id, { onDelete: 'set null' }),
    wayName: text('way_name').notNull(),
    wayKind: text('way_kind').$type<WayKind>().notNull(),
    siteId: integer('site_id').references(() => site.id, { onDelete: 'cascade' }),
    kind: text('kind').$type<NoticeKind>().notNull(),
    state: text('state').$type<'gathers' | 'waits' | 'sent' | 'given-up'>().notNull(),
    /** What it says, from the first attempt on. */
    subject: text('subject').notNull().default(''),
    text: text('text').notNull().default(''),
    count: integer('count').notNull().default(0),
    createdAt: instant('created_at').notNull(),
    /** When it is tried next. */
    dueAt: instant('due_at'),
    sentAt: instant('sent_at'),
    attempts: integer('attempts').notNull().default(0),
    answer: text('answer').notNull().default(''),
    /** What its link holds, until it is sent; after that its hash alone. */
    token: text('token'),
    tokenHash: bytea('token_hash'),
    seenAt: instant('seen_at'),
  },
  (table) => [
    index('notice_due').on(table.dueAt).where(sql`state in ('gathers', 'waits')`),
    index('notice_of_way').on(table.wayId, table.id),
    // Of one way, one of a kind gathers at a time.
    uniqueIndex('notice_gathers').on(table.wayId, table.kind).where(sql`state = 'gathers'`),
    uniqueIndex('notice_token').on(table.tokenHash),
  ],
)

/** Of which alarm somebody was told by which way: once, each time it is raised. */
export const noticeTold = pgTable(
  'notice_told',
  {
    wayId: integer('way_id')
      .notNull()
      .references(() => noticeWay.id, { onDelete: 'cascade' }),
    alarmId: text('alarm_id').notNull(),
    raisedAt: instant('raised_at').notNull(),
    noticeId: integer('notice_id')
      .notNull()
      .references(() => notice.id, { onDelete: 'cascade' }),
    line: jsonb('line').$type<NoticeLine>().notNull(),
    /** When it was over, and the notice that said so; none where that was said with the first one. */
    overAt: instant('over_at'),
    overNoticeId: integer('over_notice_id').references(() => notice.id, { onDelete: 'set null' }),
  },
  (table) => [
    primaryKey({ columns: [table.wayId, table.alarmId, table.raisedAt] }),
    index('notice_told_notice').on(table.noticeId),
    index('notice_told_over').on(table.overNoticeId),
    index('notice_told_open').on(table.alarmId).where(sql`over_at is null`),
  ],
)

/** What servers on this database know each other and themselves by, made when it is first needed. */
export const serverSecret = pgTable('server_secret', {
  name: text('name').primaryKey(),
  value: jsonb('value').$type<Readonly<Record<string, string>>>().notNull(),
})
