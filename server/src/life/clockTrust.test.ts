import { pino } from 'pino'
import { ClockTrust } from './clockTrust.ts'
import type { Heartbeat } from './heartbeat.ts'

const day = 86_400_000
const noon = Date.UTC(2026, 10, 1, 12)

/** A machine whose clocks stand where they are put; the database has the right time. */
function machine(lastAt: number | null, time = { now: noon, steady: 0, database: noon }) {
  const beats: (number | null)[] = []
  const heartbeat = {
    beat: async (at: number | null) => {
      beats.push(at)
    },
    read: async () => ({ lastAt, databaseAt: time.database }),
  } as unknown as Heartbeat
  const open = (newestMessage = 0) =>
    ClockTrust.open({
      heartbeat,
      now: () => time.now,
      steady: () => time.steady,
      newestMessage,
      log: pino({ level: 'silent' }),
    })
  return { time, beats, open }
}
const all = (now: number) => ({ now, steady: 0, database: now })
const told = (now: number, at = now - 1000) => [
  { signal: 1, at, receivedAt: now, value: 1, quality: 0 as const },
]

it('trusts a clock that nothing speaks against', async () => {
  for (const lastAt of [null, noon - 1000, noon - day + 60_000, noon + 60_000])
    expect((await machine(lastAt).open()).doubt).toBeNull()
})

it.each([
  ['30 days ahead', noon, noon + 30 * day, 'ahead'],
  ['30 days back', noon, noon - 30 * day, 'behind'],
])('does not trust one that is %s', async (_, lastAt, now, why) => {
  const { open, beats } = machine(lastAt, all(now))
  expect((await open()).doubt).toEqual({ why, clock: now, against: noon })
  expect(beats).toEqual([null])
})

it('goes by the newest message where there was no heartbeat yet', async () => {
  expect((await machine(null, all(noon + 30 * day)).open(noon)).doubt).toMatchObject({ why: 'ahead' })
})

it('does not trust one that the database contradicts, until both agree again', async () => {
  const { open, time } = machine(noon, { now: noon + 3_600_000, steady: 0, database: noon })
  const trust = await open()
  expect(trust.doubt).toMatchObject({ why: 'database' })
  time.now = noon
  await trust.look()
  expect(trust.doubt).toBeNull()
  time.now = noon + 3_600_000
  await trust.look()
  await trust.confirm()
  await trust.look()
  expect(trust.doubt).toBeNull()
})

it('notices a jump while it runs, and that it was put back', async () => {
  const { open, time } = machine(noon)
  const trust = await open()
  Object.assign(time, { now: noon + 2 * day, steady: 60_000, database: noon + 2 * day })
  await trust.look()
  expect(trust.doubt).toMatchObject({ why: 'ahead', against: noon + 60_000 })
  Object.assign(time, { now: noon + 120_000, steady: 120_000, database: noon + 120_000 })
  await trust.look()
  expect(trust.doubt).toBeNull()
})

it('is convinced by devices’ own times, not by those it stamped itself or by a backlog', async () => {
  const now = noon + 30 * day
  const trust = await machine(noon, all(now)).open()
  for (let n = 0; n < 10; n++) trust.heard([...told(now, now), ...told(now, noon)])
  expect(trust.doubt).not.toBeNull()
  for (let n = 0; n < 3; n++) trust.heard(told(now))
  expect(trust.doubt).toBeNull()
  await trust.look()
  expect(trust.doubt).toBeNull()
})

it('is convinced by a person, and knows meanwhile what has been', async () => {
  const trust = await machine(noon, all(noon - 30 * day)).open()
  expect(trust.newestKnown()).toBe(noon)
  await trust.confirm()
  expect([trust.doubt, trust.newestKnown()]).toEqual([null, Number.NEGATIVE_INFINITY])
})
