import { routes } from '@jaunty-sparrow/contract'
import { quantile, whole } from './median.ts'
import { type Owner, startProcess, startSparrow } from './server.ts'

const samples = 150
const madRate = 1000

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
  await owner.call(routes.changeDevice, {
    params: { address: 'mad' },
    body: { messagesPerMinute: 1, readingsPerMinute: 20 },
  })
  await latencies(url, calm)
  const alone = await latencies(url, calm)
  const board = await startProcess('./madBoard.ts', {
    MAD_URL: url,
    MAD_TOKEN: mad,
    MAD_RATE: String(madRate),
  })
  await latencies(url, calm)
  const beside = await latencies(url, calm)
  await board.stop()
  await stop()
  const of = (list: number[]) =>
    `p50 ${quantile(list, 0.5).toFixed(1)} ms, p99 ${quantile(list, 0.99).toFixed(1)} ms`
  return [
    `| a message of a calm device, nobody else sending | ${of(alone)} | |`,
    `| … beside one that sends ${whole(madRate)} a second and may send one a minute | ${of(beside)}, none refused | |`,
  ]
}
