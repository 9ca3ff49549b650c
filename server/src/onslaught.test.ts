import { chanceFrom } from './testing/chance.ts'
import { onslaught } from './testing/onslaught.ts'
import { emptyDatabase } from './testing/serverUnderTest.ts'

it('answers a hundred thousand inputs that nobody would send who means well, and serves a calm device meanwhile', async () => {
  const { statuses, faults, lastFault, crashed, memory, calm } = await onslaught(
    await emptyDatabase(),
    100_000,
    chanceFrom(815),
  )
  expect([crashed, faults, lastFault]).toEqual([false, 0, ''])
  const broken = [...statuses].filter(([status]) => status >= 500 && status !== 503)
  expect(broken).toEqual([])
  expect([...statuses.keys()]).toEqual(expect.arrayContaining([204, 400, 401, 415, 422]))
  expect(memory.after - memory.before).toBeLessThan(300 * 1024 * 1024)
  expect(calm.during.length).toBeGreaterThan(100)
}, 600_000)
