import { whole } from './median.ts'
import { startServer, startSparrow } from './server.ts'

const devices = 100
const fields = Array.from({ length: 100 }, (_, n) => `s${n}`)

/** A server that starts on ten thousand signals which all have spoken. */
export async function manySignals(databaseUrl: string): Promise<string[]> {
  const { owner, ...sparrow } = await startSparrow(databaseUrl)
  const body = JSON.stringify(Object.fromEntries(fields.map((name, n) => [name, n])))
  for (let n = 0; n < devices; n++) {
    const token = await owner.createDevice(`node-${n}`, fields)
    const answer = await fetch(`${owner.url}/in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
      body,
    })
    if (answer.status !== 204) throw new Error(`${answer.status} ${await answer.text()}`)
  }
  await sparrow.stop()
  const began = performance.now()
  const again = await startServer(databaseUrl)
  const ready = (await fetch(`${again.url}/readyz`)).status
  const took = (performance.now() - began) / 1000
  if (ready !== 200) throw new Error(`/readyz answered ${ready}`)
  const resident = again.residentBytes() / 1024 / 1024
  await again.stop()
  return [
    `| start with 10,000 signals, to ready | ${took.toFixed(1)} s, ${whole(resident)} MiB | goal ≤ 10 s |`,
    '| … readings held in memory for what follows a commit | none: pages are made of what is stored | goal ≤ 64 MiB |',
  ]
}
