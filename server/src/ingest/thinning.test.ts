import { routes } from '@jaunty-sparrow/contract'
import { Quality, type Reading, type StoringRule } from '@jaunty-sparrow/core/signal'
import { startServer } from '../server.ts'
import { emptyDatabase, send, serverUnderTest, TestPerson, testConfig } from '../testing/serverUnderTest.ts'
import { Thinning } from './thinning.ts'

const reading = (signal: number, at: number, value: number): Reading => ({
  signal,
  at,
  receivedAt: at,
  value,
  quality: Quality.good,
})
const byChange: StoringRule = { by: 'change', deadband: 1, heartbeat: 60 }

describe('Thinning', () => {
  function thinning(policies: ReadonlyMap<number, StoringRule>) {
    const written: [number, number][] = []
    const store = { away: false }
    const made = new Thinning(
      () => policies,
      async (readings) => {
        if (store.away) throw new Error('away')
        written.push(...readings.map(({ signal, value }): [number, number] => [signal, Number(value)]))
        return { fresh: readings.length, otherwise: [] }
      },
    )
    return { made, written, store }
  }

  it('thins only those it was told to thin', async () => {
    const { made, written } = thinning(new Map([[1, byChange]]))
    for (const at of [0, 1, 2]) await made.write([reading(1, at, 5), reading(2, at, 5)], [])
    expect(written).toEqual([
      [2, 5],
      [1, 5],
      [2, 5],
      [2, 5],
    ])
  })

  it('chooses anew what could not be stored', async () => {
    const { made, written, store } = thinning(new Map([[1, byChange]]))
    await made.write([reading(1, 0, 5)], [])
    store.away = true
    await expect(made.write([reading(1, 1, 9)], [])).rejects.toThrow('away')
    store.away = false
    await made.write([reading(1, 1, 9)], [])
    expect(written).toEqual([
      [1, 5],
      [1, 9],
    ])
  })

  it('closes an interval once, and forgets what was to be kept otherwise', async () => {
    const policies = new Map<number, StoringRule>([[1, { by: 'interval', seconds: 10, of: 'mean' }]])
    const { made, written } = thinning(policies)
    await made.write([reading(1, 1000, 4), reading(1, 2000, 8)], [])
    await made.closeIntervals(14_999)
    expect(written).toEqual([])
    await made.closeIntervals(15_000)
    await made.closeIntervals(16_000)
    expect(written).toEqual([[1, 6]])
    await made.write([reading(1, 20_000, 1)], [])
    policies.set(1, { by: 'interval', seconds: 60, of: 'last' })
    await made.closeIntervals(1e9)
    expect(written).toEqual([[1, 6]])
  })
})

const storeBy = async (owner: TestPerson, address: string, field: string, storing: StoringRule) => {
  const signal = (await owner.device(address)).signals.find((candidate) => candidate.field === field)
  const params = { definitionId: signal?.definitionId ?? 0 }
  expect((await owner.call(routes.changeSignalDefinition, { params, body: { storing } })).status).toBe(204)
}

describe('a signal that stores less than arrives', () => {
  it('shows every reading, and stores those that tell something', async () => {
    const server = await serverUnderTest()
    const { owner } = server
    const { token } = await owner.createDevice('pump')
    const start = Date.now() - 600_000
    await send(server.origin, token, { x: 20, t: start })
    await storeBy(owner, 'pump', '/x', byChange)
    for (let n = 1; n <= 5; n++) await send(server.origin, token, { x: 20 + n / 10, t: start + n })
    await send(server.origin, token, { x: 22, t: start + 6 })
    await send(server.origin, token, { x: 22.3, t: start + 7 })
    expect((await owner.device('pump')).signals[0]?.latest?.value).toBe(22.3)
    expect((await owner.values('pump', '/x')).map(([, value]) => value)).toEqual([20, 20.1, 20.5, 22])
    await server.close()
  })

  it('loses nothing of an interval that was open when the server stopped', async () => {
    const databaseUrl = await emptyDatabase()
    const time = { now: Date.UTC(2026, 4, 1, 12, 0, 30) }
    const run = () => startServer(testConfig(databaseUrl), { webRoot: undefined, now: () => time.now })
    const first = await run()
    const owner = new TestPerson(first.url)
    await owner.becomeOwner(first.firstRunToken)
    const { token } = await owner.createDevice('pump')
    const minute = Date.UTC(2026, 4, 1, 12, 0)
    await send(first.url, token, { x: 0, t: minute - 60_000 })
    await storeBy(owner, 'pump', '/x', { by: 'interval', seconds: 60, of: 'mean' })
    await send(first.url, token, { x: 4, t: minute + 10_000 })
    await send(first.url, token, { x: 8, t: minute + 20_000 })
    await first.close()

    const second = await run()
    const again = new TestPerson(second.url)
    again.cookie = owner.cookie
    await send(second.url, token, { x: 9, t: minute + 30_000 })
    time.now += 120_000
    const values = async () => {
      const { body } = await again.call(routes.getTraces, {
        query: {
          signals: String((await again.device('pump')).signals[0]?.id),
          from: minute,
          to: minute + 60_000,
          columns: 4000,
        },
      })
      return body[0]?.points ?? []
    }
    let found = await values()
    while (found.length === 0) found = await values()
    expect(found).toEqual([[minute + 30_000, 7]])
    await second.close()
  })
})
