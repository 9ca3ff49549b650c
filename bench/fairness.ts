import { quantile } from './median.ts'
import { type Owner, startSparrow } from './server.ts'

const samples = 150
const madConnections = 20

async function latencies(url: string, tokens: readonly string[]): Promise<number[]> {
  const taken: number[] = []
  for (let n = 0; n < samples; n++) {
    const start = performance.now()
    const response = await post(url, tokens[n % tokens.length] ?? '')
    if (response.status !== 204) throw new Error(`a calm device was answered ${response.status}`)
    taken.push(performance.now() - start)
    await new Promise((pause) => setTimeout(pause, 10))
  }
  return taken
}

const post = (url: string, token: string): Promise<Response> =>
  fetch(`${url}/in`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: '{"a": 1}',
  })

async function calmDevices(owner: Owner): Promise<string[]> {
  const tokens: string[] = []
  for (let n = 0; n < 9; n++) tokens.push(await owner.createDevice(`calm-${n}`, ['a']))
  return tokens
}

/** What one device that sends as fast as it can costs nine others that do not. */
export async function fairness(databaseUrl: string): Promise<string[]> {
  const { url, owner, stop } = await startSparrow(databaseUrl)
  const calm = await calmDevices(owner)
  const mad = await owner.createDevice('mad', ['a'])
  await owner.call('PATCH', '/api/devices/mad', { messagesPerMinute: 600, readingsPerMinute: 12_000 })
  await latencies(url, calm)
  const alone = await latencies(url, calm)
  let raging = true
  let throttled = 0
  const start = performance.now()
  const rage = Array.from({ length: madConnections }, async () => {
    while (raging) if ((await post(url, mad)).status === 429) throttled++
  })
  const beside = await latencies(url, calm)
  raging = false
  await Promise.all(rage)
  const perSecond = throttled / ((performance.now() - start) / 1000)
  await stop()
  const of = (list: number[]) =>
    `p50 ${quantile(list, 0.5).toFixed(1)} ms, p99 ${quantile(list, 0.99).toFixed(1)} ms`
  return [
    `| a message of a calm device, nobody else sending | ${of(alone)} | |`,
    `| … beside one that is turned away ${Math.round(perSecond).toLocaleString('en')} times a second on the same two cores | ${of(beside)}, none refused | |`,
  ]
}
