import { routes } from '@jaunty-sparrow/contract'
import {
  type ServerUnderTest,
  send,
  serverUnderTest,
  spendDay,
  type TestPerson,
} from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let owner: TestPerson
beforeAll(async () => {
  server = await serverUnderTest()
  owner = server.owner
})
afterAll(() => server.close())

const limit = (address: string, body: Parameters<typeof owner.limit>[1]) => owner.limit(address, body)

describe('a device that sends more than it may', () => {
  it('is told when to come again, is seen in Arrivals, and costs the others nothing', async () => {
    const { token: mad } = await owner.createDevice('mad')
    const { token: calm } = await owner.createDevice('calm')
    await limit('mad', { messagesPerMinute: 1 })
    await spendDay(server.origin, mad)
    const refused = await send(server.origin, mad, { n: -1 })
    expect(refused).toMatchObject({ status: 429, body: { type: '/problems/throttled' } })
    expect(refused.body.detail).toMatch(/messages a minute \(1\).*raise the allowance/)
    expect(Number(refused.headers.get('Retry-After'))).toBeGreaterThan(10)
    expect((await send(server.origin, calm, { n: 1 })).status).toBe(204)
    expect(await owner.values('mad', '/n')).toHaveLength(1440)
    // Over HTTP it was told, and will send it again.
    expect((await owner.device('mad')).dropped).toBeNull()
    expect(await owner.arrival(({ outcome }) => outcome === 'throttled')).toMatchObject({
      sender: 'mad',
      stored: 0,
    })
  })

  it('may send again as soon as the limit is raised', async () => {
    const { token } = await owner.createDevice('raised')
    await limit('raised', { messagesPerMinute: 1 })
    await spendDay(server.origin, token)
    expect((await send(server.origin, token, { n: 2 })).status).toBe(429)
    await limit('raised', { messagesPerMinute: 100 })
    expect((await owner.device('raised')).allowance).toMatchObject({
      messagesPerMinute: 100,
      readingsPerMinute: 2000,
      stated: { messagesPerMinute: 100, readingsPerMinute: null },
    })
  })

  it('may send a day of readings at once, and no more', async () => {
    const { token } = await owner.createDevice('backlog')
    await limit('backlog', { readingsPerMinute: 1 })
    const start = Date.now() - 1_000_000
    const backlog = (count: number) => Array.from({ length: count }, (_, n) => ({ n, t: start + n }))
    expect((await send(server.origin, token, backlog(1440))).status).toBe(204)
    expect((await send(server.origin, token, backlog(2))).body?.detail).toMatch(/readings a minute \(1\)/)
  })

  it('is told the size it may send', async () => {
    const { token } = await owner.createDevice('wordy')
    await limit('wordy', { messageBytes: 20 })
    expect(await send(server.origin, token, { temperature: 21.123456789 })).toMatchObject({ status: 413 })
    expect((await send(server.origin, token, { n: 1 })).status).toBe(204)
  })
})

describe('the capacity of the server', () => {
  it('is measured with rows that are stored, and leaves nothing behind', async () => {
    const [first, second] = await Promise.all([
      owner.call(routes.measureCapacity),
      owner.call(routes.measureCapacity),
    ])
    expect(first.body.readingsPerSecond).toBeGreaterThan(100)
    expect(second.body).toEqual(first.body)
    expect((await owner.call(routes.getCapacity)).body.bytesPerReading).toBeGreaterThan(20)
  })
})
