import { once } from 'node:events'
import { routes } from '@jaunty-sparrow/contract'
import { WebSocket } from 'ws'
import { startSparrow } from './server.ts'

const pages = 200
const fields = ['a', 'b', 'c', 'd', 'e', 'f']
const span = 20_000
/** How often the device speaks, ms. */
const period = 250

/** Strangers who look on by a link: what they cost the server, and how old what they see is. */
export async function shared(databaseUrl: string): Promise<string[]> {
  const { owner, ...sparrow } = await startSparrow(databaseUrl)
  const token = await owner.createDevice('vat', fields)
  const { token: link } = await owner.call(routes.createShareLink, {
    params: { address: 'vat' },
    body: { name: 'Vat', signalId: null, past: 'day', frameAncestors: [], expiresAt: null },
  })
  const { signals } = await owner.call(routes.getDevice, { params: { address: 'vat' } })
  const ages: number[] = []
  let isCounting = false
  const sockets = await Promise.all(
    Array.from({ length: pages }, async () => {
      const socket = new WebSocket(`${sparrow.url.replace('http', 'ws')}/live?link=${link}`)
      await once(socket, 'open')
      socket.send(JSON.stringify({ subscribe: signals.map(({ id }) => id) }))
      await once(socket, 'message')
      socket.on('message', (data) => {
        const frame = JSON.parse(String(data))
        if (!isCounting || frame.kind !== 'readings') return
        const now = Date.now()
        for (const { readings } of frame.signals) for (const [at] of readings) ages.push(now - at)
      })
      return socket
    }),
  )
  let n = 0
  const speaking = setInterval(() => {
    n++
    void fetch(`${sparrow.url}/in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
      body: JSON.stringify({ t: Date.now(), ...Object.fromEntries(fields.map((name) => [name, n])) }),
    })
  }, period)
  await new Promise((done) => setTimeout(done, 2000))
  isCounting = true
  const before = sparrow.cpuSeconds()
  await new Promise((done) => setTimeout(done, span))
  const share = (sparrow.cpuSeconds() - before) / (span / 1000)
  isCounting = false
  clearInterval(speaking)
  for (const socket of sockets) socket.terminate()
  await sparrow.stop()
  ages.sort((a, b) => a - b)
  const at = (share: number) => ages[Math.floor(ages.length * share)] ?? Number.NaN
  return [
    `| ${pages} pages open by a link, six signals at 4 Hz: share of one core | ${(share * 100).toFixed(0)} % | |`,
    `| … age of what they see, p50 and p99 | ${at(0.5)} ms, ${at(0.99)} ms | p99 goal ≤ 500 ms |`,
  ]
}
