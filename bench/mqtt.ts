import { routes } from '@jaunty-sparrow/contract'
import mqtt, { type MqttClient } from 'mqtt'
import { median, whole } from './median.ts'
import { type Measured, startProcess, startServer, startSparrow } from './server.ts'

const rounds = 3
const seconds = 4
const connectionsOfEach = 5
/** Messages a client has on their way at a time. */
const window = 10

interface Identity {
  readonly username: string
  readonly password: string
}

async function connect(port: number, { username, password }: Identity): Promise<MqttClient> {
  const client = await mqtt.connectAsync(`mqtt://127.0.0.1:${port}`, {
    username,
    password,
    reconnectPeriod: 0,
  })
  client.on('error', () => undefined)
  return client
}

/** No two messages of a run are measured at the same instant. */
let instant = Date.now() - 20 * 86_400_000

/** Messages a second that were acknowledged, with so many clients that each keep some on their way. */
async function acknowledged(
  clients: readonly MqttClient[],
  identities: readonly Identity[],
): Promise<number> {
  let count = 0
  const start = performance.now()
  const end = start + seconds * 1000
  const publish = async (client: MqttClient, topic: string) => {
    while (performance.now() < end) {
      instant++
      await client.publishAsync(topic, JSON.stringify({ t: instant, a: count, b: 21.53, c: 48.2 }), {
        qos: 1,
      })
      count++
    }
  }
  const busy = clients.flatMap((client, n) => {
    const topic = `sparrow/${identities[n]?.username}/in`
    return Array.from({ length: clients.length > 100 ? 1 : window }, () => publish(client, topic))
  })
  await Promise.all(busy)
  return count / ((performance.now() - start) / 1000)
}

const idleConnections = 1000

async function idleMemory(sparrow: Measured, devices: readonly Identity[]): Promise<string> {
  const before = sparrow.residentBytes()
  const clients: MqttClient[] = []
  for (let n = 0; n < idleConnections; n++)
    clients.push(await connect(sparrow.mqttPort, devices[n % devices.length] as Identity))
  const idle = sparrow.residentBytes() - before
  await Promise.all(clients.map((client) => client.endAsync()))
  return `| memory for ${whole(idleConnections)} idle MQTT connections | ${(idle / 1024 / 1024).toFixed(0)} MiB, ${(idle / idleConnections / 1024).toFixed(0)} KiB each | |`
}

/** Acknowledged messages over MQTT against the bare broker library, and what connections that say nothing cost. */
export async function mqttDoor(databaseUrl: string): Promise<string[]> {
  const sparrow = await startSparrow(databaseUrl)
  const bare = await startProcess('./bareBroker.ts')
  const devices: Identity[] = []
  for (let n = 0; n < 200; n++) {
    const token = await sparrow.owner.createDevice(`board-${n}`, ['a', 'b', 'c'])
    devices.push({ username: `board-${n}`, password: token.slice(token.indexOf('.') + 1) })
  }
  const rows: string[] = []
  for (const count of [50, 1000]) {
    const identities = Array.from(
      { length: count },
      (_, n) => devices[Math.floor(n / connectionsOfEach)] as Identity,
    )
    const results: Record<'sparrow' | 'bare', number[]> = { sparrow: [], bare: [] }
    const ours = await Promise.all(identities.map((identity) => connect(sparrow.mqttPort, identity)))
    const theirs = await Promise.all(identities.map((identity) => connect(bare.mqttPort, identity)))
    for (let round = 0; round <= rounds; round++) {
      const measured = {
        sparrow: await acknowledged(ours, identities),
        bare: await acknowledged(theirs, identities),
      }
      // The first round warms everything up.
      if (round > 0) for (const key of ['sparrow', 'bare'] as const) results[key].push(measured[key])
    }
    await Promise.all([...ours, ...theirs].map((client) => client.endAsync()))
    const ratio = median(results.sparrow.map((value, n) => value / (results.bare[n] ?? 1)))
    rows.push(
      `| MQTT QoS 1, ${whole(count)} connections, 3 readings a message, acknowledged after the commit | ${whole(median(results.sparrow))} messages/s | |`,
      `| … against the bare broker library, which keeps nothing (${whole(median(results.bare))} messages/s) | ratio ${ratio.toFixed(2)} | |`,
    )
  }
  for (const outcome of ['refused', 'throttled'] as const) {
    const turnedAway = await sparrow.owner.call(routes.listArrivals, { query: { outcome, limit: 1 } })
    if (turnedAway.length > 0) throw new Error(`messages were ${outcome}`)
  }
  await Promise.all([sparrow.stop(), bare.stop()])
  // A server that has done nothing yet: its memory grows by the connections and by nothing else.
  const rested = await startServer(databaseUrl)
  rows.push(await idleMemory(rested, devices))
  await rested.stop()
  return rows
}
