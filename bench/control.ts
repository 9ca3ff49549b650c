import { once } from 'node:events'
import type { Socket } from 'node:net'
import { type Command, type LiveFrame, routes } from '@jaunty-sparrow/contract'
import mqtt, { type MqttClient } from 'mqtt'
import { WebSocket } from 'ws'
import { quantile } from './median.ts'
import { startProcess, startSparrow } from './server.ts'

const warming = 30
const samples = 200

async function connect(port: number, credential = {}): Promise<MqttClient> {
  const client = await mqtt.connectAsync(`mqtt://127.0.0.1:${port}`, { ...credential, reconnectPeriod: 0 })
  // Else each side waits some 40 ms for what could go with a small packet.
  ;(client.stream as unknown as Socket).setNoDelay(true)
  return client
}

/** There and back between two clients of a broker that does nothing else, ms. */
async function bareRoundTrips(port: number): Promise<number[]> {
  const [asks, does] = [await connect(port), await connect(port)]
  await does.subscribeAsync('set', { qos: 1 })
  await asks.subscribeAsync('state', { qos: 1 })
  does.on('message', (_, payload) => {
    does.publish('state', payload, { qos: 1 })
  })
  const trips: number[] = []
  for (let n = 0; n < warming + samples; n++) {
    const began = performance.now()
    const back = new Promise<void>((seen) => asks.once('message', () => seen()))
    asks.publish('set', String(n), { qos: 1 })
    await back
    trips.push(performance.now() - began)
  }
  await Promise.all([asks.endAsync(), does.endAsync()])
  return trips.slice(warming)
}

/** From asking for a state to the page that hears that the device is so: over HTTP, MQTT there and back, and the live line. */
export async function control(databaseUrl: string): Promise<string[]> {
  const { owner, ...sparrow } = await startSparrow(databaseUrl)
  const bare = await startProcess('./bareBroker.ts')
  const site = await owner.call(routes.createSite, { body: { name: 'Shed', timeZone: 'UTC' } })
  const kit = await owner.call(routes.createKit, {
    body: {
      name: 'Relay',
      cadence: { by: 'always', seconds: 30 },
      signals: [{ field: '/relay', name: 'Relay', kind: 'switch', origin: 'controlled' }],
    },
  })
  const { device, secret } = await owner.call(routes.createDevice, {
    body: { name: 'Relay', address: 'relay', siteId: site.id, kitId: kit.id },
  })
  const signalId = device.signals[0]?.id ?? 0
  const board = await connect(sparrow.mqttPort, { username: 'relay', password: secret })
  await board.subscribeAsync('sparrow/relay/set/#', { qos: 1 })
  board.on('message', (_, payload) => {
    const { id, value } = JSON.parse(payload.toString('utf8'))
    board.publish('sparrow/relay/state/relay', JSON.stringify({ id, says: 'done', value }), { qos: 1 })
  })
  const page = new WebSocket(`${owner.url.replace('http', 'ws')}/live`, {
    headers: { Cookie: owner.cookie, Origin: owner.url },
  })
  await once(page, 'open')
  page.send(JSON.stringify({ subscribe: [signalId] }))
  const confirmed = new Map<number, () => void>()
  const early = new Set<number>()
  page.on('message', (data: Buffer) => {
    const frame: LiveFrame = JSON.parse(data.toString())
    if (frame.kind !== 'commands') return
    for (const { id } of frame.commands.filter(({ state }: Command) => state === 'confirmed')) {
      confirmed.get(id)?.()
      early.add(id)
    }
  })
  const trips: number[] = []
  for (let n = 0; n < warming + samples; n++) {
    const began = performance.now()
    const [told] = await owner.call(routes.requestCommands, { body: { signals: [signalId], value: n % 2 } })
    const id = told?.command?.id
    if (id === undefined) throw new Error(`it was refused: ${told?.refused}`)
    if (!early.has(id)) await new Promise<void>((seen) => confirmed.set(id, seen))
    trips.push(performance.now() - began)
  }
  const theirs = await bareRoundTrips(bare.mqttPort)
  const ours = trips.slice(warming)
  const at = (share: number) => {
    const [mine, floor] = [quantile(ours, share), quantile(theirs, share)]
    return `${mine.toFixed(1)} ms ÷ ${floor.toFixed(1)} ms = ${(mine / floor).toFixed(1)}`
  }
  page.terminate()
  await board.endAsync()
  await Promise.all([sparrow.stop(), bare.stop()])
  return [
    `| from a click to the device's report at the page, over MQTT, ÷ there and back through the bare broker library: p50 | ${at(0.5)} | goal ≤ 5 |`,
    `| … p99 | ${at(0.99)} | goal ≤ 5 |`,
  ]
}
