import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Cluster, ensureDatabase, startCluster } from '../../launch/cluster.mjs'
import { startServer } from './server.ts'
import { emptyDatabase, send, TestPerson, testConfig } from './testing/serverUnderTest.ts'
import { spawnServer } from './testing/spawnedServer.ts'

describe('a server that is killed in the middle of a stream', () => {
  it('has every reading it acknowledged, once, when it is back', async () => {
    const databaseUrl = await emptyDatabase()
    const first = await spawnServer(databaseUrl)
    const owner = new TestPerson(first.url)
    await owner.becomeOwner(first.firstRunToken)
    const { token } = await owner.createDevice('stream')
    await owner.limit('stream', { messagesPerMinute: 1_000_000 })
    await send(first.url, token, { n: -1 })

    const start = Date.now() - 1_000_000
    const acknowledged: number[] = []
    let next = 0
    const sender = async () => {
      while (true) {
        const n = next++
        const answer = await send(first.url, token, { n, t: start + n }).catch(() => undefined)
        if (answer?.status !== 204) return
        acknowledged.push(n)
        if (acknowledged.length === 600) first.process.kill('SIGKILL')
      }
    }
    await Promise.all(Array.from({ length: 20 }, sender))
    expect(acknowledged.length).toBeGreaterThanOrEqual(600)

    const second = await spawnServer(databaseUrl)
    const again = new TestPerson(second.url)
    again.cookie = owner.cookie
    const stored = (await again.values('stream', '/n')).map(([, value]) => value).filter((n) => n >= 0)
    expect(new Set(stored).size).toBe(stored.length)
    const missing = acknowledged.filter((n) => !stored.includes(n))
    expect(missing).toEqual([])
    const ended = once(second.process, 'exit')
    second.process.kill('SIGTERM')
    expect((await ended)[0]).toBe(0)
  }, 120_000)
})

describe('a PostgreSQL that restarts under a running server', () => {
  let folder: string
  let cluster: Cluster
  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'sparrow-restart-'))
    cluster = await startCluster(folder)
    await ensureDatabase(cluster, 'sparrow')
  }, 120_000)
  afterAll(() => {
    cluster.stop()
    rmSync(folder, { recursive: true, force: true })
  })

  it('makes senders wait and loses nothing that was acknowledged', async () => {
    const config = testConfig(cluster.url('sparrow'))
    const server = await startServer(config, { webRoot: undefined, now: Date.now })
    const owner = new TestPerson(server.url)
    await owner.becomeOwner(server.firstRunToken)
    const { token } = await owner.createDevice('patient')
    await send(server.url, token, { n: -1 })
    const start = Date.now() - 1_000_000
    const acknowledged: number[] = []
    let next = 0
    const one = async () => {
      const n = next++
      const answer = await send(server.url, token, { n, t: start + n })
      if (answer.status === 204) acknowledged.push(n)
      return answer
    }
    const burst = () => Promise.all(Array.from({ length: 50 }, one))

    await burst()
    const during = burst()
    cluster.stop()
    await during
    const away = await one()
    expect([away.status, away.headers.get('retry-after')]).toEqual([503, '5'])
    expect(away.body.detail).toMatch(/nothing was stored/)
    expect((await fetch(`${server.url}/readyz`)).status).toBe(503)
    expect((await fetch(`${server.url}/healthz`)).status).toBe(200)

    cluster.restart()
    expect((await one()).status).toBe(204)
    const stored = new Set((await owner.values('patient', '/n')).map(([, value]) => value))
    expect(acknowledged.filter((n) => !stored.has(n))).toEqual([])
    expect(acknowledged.length).toBeGreaterThan(50)
    await server.close()
  }, 120_000)
})
