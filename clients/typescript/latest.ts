// Prints what every accepted signal says just now, and the highest of the last hour: SPARROW_URL and SPARROW_TOKEN say where
// and with which key.
import createClient from 'openapi-fetch'
import type { paths } from './schema.js'

const baseUrl = process.env.SPARROW_URL ?? 'http://127.0.0.1:7600'
const client = createClient<paths>({
  baseUrl,
  headers: { Authorization: `Bearer ${process.env.SPARROW_TOKEN ?? ''}` },
})

const { data: devices, error } = await client.GET('/api/devices')
if (!devices) {
  console.error(error?.detail)
  process.exit(1)
}
const to = Date.now() + 1000
for (const { name, signals } of devices) {
  for (const { id, name: called, unit, state, latest } of signals) {
    if (state !== 'accepted' || !latest) continue
    const query = { signals: String(id), from: to - 3_600_000, to, columns: 100 }
    const { data: traces } = await client.GET('/api/traces', { params: { query } })
    const values = traces?.[0]?.points.map(([, value]) => value) ?? []
    console.log(
      `${name}, ${called}: ${JSON.stringify(latest.value)} ${unit ?? ''}, at most ${Math.max(...values)}`,
    )
  }
}
