import { setTimeout as rest } from 'node:timers/promises'
import { routes } from '@jaunty-sparrow/contract'
import { type Alarm, untoldAlarm } from '@jaunty-sparrow/core/signal'
import groupBy from 'lodash-es/groupBy.js'
import pg from 'pg'
import { MailSink } from '../testing/mailSink.ts'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

const cuts = 200
const signals = 12
const alarm: Alarm = {
  ...untoldAlarm,
  key: 'high',
  occasion: { by: 'limit', limit: 'high' },
  priority: 'urgent',
}
const limits = { lowLow: null, low: null, high: 50, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }

let sink: MailSink
let server: ServerUnderTest
let admin: pg.Client
let ahead = 0
beforeAll(async () => {
  sink = await new MailSink().open()
  server = await serverUnderTest({
    now: () => Date.now() + ahead,
    config: { mailUrl: sink.url, mailFrom: 'sparrow@creamery.example' },
  })
  admin = new pg.Client({ connectionString: server.databaseUrl })
  await admin.connect()
})
afterAll(async () => {
  await admin.end()
  await server.close()
  await sink.close()
})

/** Ends connections of the server, whatever they are in the midst of. @returns how many */
async function cut(most: number): Promise<number> {
  const { rowCount } = await admin.query(
    `select pg_terminate_backend(pid) from pg_stat_activity
     where datname = current_database() and pid <> pg_backend_pid() order by random() limit $1`,
    [most],
  )
  return rowCount ?? 0
}

it('misses no alarm and tells none twice, and sends again only what may not have come, by the same id', async () => {
  const { owner } = server
  const fields = Array.from({ length: signals }, (_, n) => `s${n}`)
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Vat',
      cadence: { by: 'event' },
      signals: fields.map((name) => ({
        field: `/${name}`,
        name,
        kind: 'number' as const,
        limits,
        alarms: [alarm],
      })),
    },
  })
  const { address, token } = await owner.createDevice('vat', kit.id)
  const { signals: known, siteId } = await owner.device(address)
  const ids = known.map(({ id }) => `${id}.high`)
  await owner.call(routes.createWay, {
    body: {
      // A clock that is put forward is an alarm of the server: of that nobody is told here.
      siteId,
      kind: 'mail',
      name: 'Moira',
      target: 'moira@creamery.example',
      tellings: [{ priorities: ['urgent'], days: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 0, wait: 0 }],
    },
  })
  /** Until it is durable, as a board does. */
  const says = async (value: number) => {
    const body = {
      ...Object.fromEntries(fields.map((name) => [name, value])),
      t: (Date.now() + ahead) / 1000,
    }
    for (;;) {
      const { status } = await send(server.origin, token, body).catch(() => ({ status: 0 }))
      if (status === 204) return
      await rest(10)
    }
  }
  await says(40)
  let isOver = false
  let made = 0
  // Between the other side's acceptance and our record, every other time.
  sink.taken = async () => {
    if (!isOver && sink.mails.length % 2 === 1) made += await cut(100)
  }
  const cutting = (async () => {
    while (!isOver) {
      made += await cut(1)
      await rest(100)
    }
  })()
  let rounds = 0
  while (made < cuts) {
    // Long enough apart that it is told, and that what was being sent is tried again.
    ahead += 130_000
    await says(60)
    await rest(1200)
    await says(40)
    await rest(1200)
    rounds++
  }
  isOver = true
  await cutting
  const acts = async (id: string) => {
    const { rows } = await admin.query<{ move: string }>(
      'select move from alarm_act where alarm_id = $1 order by id',
      [id],
    )
    return rows.map(({ move }) => move)
  }
  await owner.until(
    async () => (await acts(ids[0] ?? '')).length,
    (count) => count === 2 * rounds,
  )
  // Each was raised and returned as often as it was so: no cut lost one, and none was counted twice.
  for (const id of ids)
    expect(await acts(id)).toEqual(Array.from({ length: rounds }, () => ['raise', 'return']).flat())
  const unsent = async () =>
    Number((await admin.query(`select count(*) from notice where state <> 'sent'`)).rows[0].count)
  for (let left = await unsent(); left > 0; left = await unsent()) {
    ahead += 130_000
    await rest(300)
  }
  const { rows: written } = await admin.query<{ uuid: string; told: number }>(
    `select uuid, (select count(*)::int from notice_told where notice_id = notice.id or over_notice_id = notice.id) as told from notice`,
  )
  const uuids = new Set(written.map(({ uuid }) => `<${uuid}@creamery.example>`))
  const came = new Map(Object.entries(groupBy(sink.mails, ({ id }) => id)))
  // All that was written down came, and nothing else did.
  expect([...came.keys()].sort()).toEqual([...uuids].sort())
  expect(sink.mails.length).toBeGreaterThan(came.size)
  for (const again of came.values()) {
    const texts = new Set(again.map(({ source }) => source.split('\r\n\r\n').slice(1).join('\r\n\r\n')))
    expect(texts.size).toBe(1)
  }
  // Of every alarm somebody was told.
  const { rows: told } = await admin.query<{ id: string }>('select distinct alarm_id as id from notice_told')
  expect(told.map(({ id }) => id).sort()).toEqual([...ids].sort())
  expect(written.every(({ told: count }) => count > 0)).toBe(true)
}, 300_000)
