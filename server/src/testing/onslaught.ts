import { createSocket } from 'node:dgram'
import { once } from 'node:events'
import { readFileSync } from 'node:fs'
import { connect, type Socket } from 'node:net'
import { routes } from '@jaunty-sparrow/contract'
import { generate as coapPacket } from 'coap-packet'
import { generate as mqttPacket } from 'mqtt-packet'
import { hostileBodies } from './hostileBodies.ts'
import { TestPerson } from './serverUnderTest.ts'
import { spawnServer } from './spawnedServer.ts'

/** What came of an onslaught. */
export interface Onslaught {
  readonly inputs: number
  /** Answers by their status, of HTTP. */
  readonly statuses: ReadonlyMap<number, number>
  /** What went wrong in the server that it had not foreseen. */
  readonly faults: number
  readonly lastFault: string
  readonly crashed: boolean
  /** Resident memory when it had warmed up, and in the end, bytes. */
  readonly memory: { readonly before: number; readonly after: number }
  /** How long a calm device waited for each answer, ms, before and during it. */
  readonly calm: { readonly before: readonly number[]; readonly during: readonly number[] }
}

const mediaTypes = [
  'application/json',
  'application/senml+json',
  'application/senml+cbor',
  'application/cbor',
  'application/x-www-form-urlencoded',
  'text/csv',
  'text/x.pairs',
  'text/plain',
  'application/octet-stream',
  'image/png',
]

/** What stands where something else should, in whatever is sent. */
const oddBytes = [
  '\0',
  '\ud800',
  '"',
  '\\',
  '[',
  '{',
  '\n',
  ',',
  '=',
  '%',
  '/',
  '1e999',
  'NaN',
  '-',
  '\u2028',
  '𝄞',
]

const closeOf = (socket: Socket) => new Promise((closed) => socket.once('close', closed))

/** Makes inputs that nobody would send who means well. */
class Malice {
  readonly #chance: () => number

  constructor(chance: () => number) {
    this.#chance = chance
  }

  of<T>(list: readonly T[]): T {
    return list[Math.floor(this.#chance() * list.length)] as T
  }

  below(most: number): number {
    return Math.floor(this.#chance() * most)
  }

  body(): Buffer {
    const hostile = this.of(hostileBodies)
    const size = this.#chance() < 0.002 ? 300_000 : 16 + this.below(1500)
    const made = hostile.make(size)
    const bytes = Buffer.from(typeof made === 'string' ? Buffer.from(made) : made)
    for (let change = this.below(4); change > 0 && bytes.length > 0; change--)
      bytes[this.below(bytes.length)] = this.below(256)
    const odd = Buffer.from(this.of(oddBytes))
    const at = this.below(bytes.length + 1)
    const cut = this.#chance() < 0.3 ? this.below(bytes.length + 1) : bytes.length
    return Buffer.concat([bytes.subarray(0, at), odd, bytes.subarray(at)]).subarray(0, cut + odd.length)
  }

  path(): string {
    const parts = [
      'a',
      '%zz',
      '%00',
      '',
      'x'.repeat(this.below(300)),
      '..',
      '%2f',
      '%ed%a0%80',
      '~',
      '.csv',
      '?a=b',
    ]
    return `/in${Array.from({ length: this.below(4) }, () => `/${this.of(parts)}`).join('')}`
  }

  topic(address: string): string {
    const beyond = [
      'in',
      'in/.csv',
      'in//a',
      `in/${'y/'.repeat(this.below(60))}`,
      'state/x',
      'presence',
      'set',
      '$',
    ]
    return this.#chance() < 0.9
      ? `sparrow/${address}/${this.of(beyond)}`
      : this.of(['#', '+', 'a/b', '$SYS/x', 'sparrow/other/in'])
  }

  noise(): Buffer {
    return Buffer.from(Array.from({ length: 1 + this.below(60) }, () => this.below(256)))
  }
}

/**
 * Sends inputs at every door that nobody would send who means well, and watches the server and a calm device meanwhile.
 * @param chance between 0 and 1; the same numbers make the same onslaught
 */
export async function onslaught(
  databaseUrl: string,
  inputs: number,
  chance: () => number,
): Promise<Onslaught> {
  const server = await spawnServer(databaseUrl, { COAP_PORT: '0' })
  let crashed = false
  server.process.on('exit', () => {
    crashed = true
  })
  const owner = new TestPerson(server.url)
  await owner.becomeOwner(server.firstRunToken)
  const calm = await owner.createDevice('calm')
  const mad = await owner.createDevice('mad')
  await owner.limit('mad', { messagesPerMinute: 1_000_000 })
  const malice = new Malice(chance)
  const statuses = new Map<number, number>()
  const memory = () =>
    Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.process.pid}/status`, 'utf8'))?.[1] ?? 0) * 1024

  const latencies: number[] = []
  let isOver = false
  const calmly = async () => {
    while (!isOver && !crashed) {
      const start = performance.now()
      const answer = await fetch(`${server.url}/in`, {
        method: 'POST',
        headers: { Authorization: `Bearer ${calm.token}`, 'Content-Type': 'application/json' },
        body: '{"a": 1}',
      })
      if (answer.status !== 204)
        throw new Error(`a calm device was answered ${answer.status}: ${await answer.text()}`)
      latencies.push(performance.now() - start)
      await new Promise((pause) => setTimeout(pause, 10))
    }
  }

  const overHttp = async () => {
    const headers: Record<string, string> = {
      Authorization: malice.of([
        `Bearer ${mad.token}`,
        `Bearer ${mad.token}`,
        `Bearer ${mad.token}`,
        'Bearer x.y',
        'Basic !',
        '',
      ]),
      'Content-Type': malice.of(mediaTypes),
    }
    if (malice.below(20) === 0) headers['Content-Encoding'] = malice.of(['gzip', 'GZIP', 'br', 'identity'])
    const answer = await fetch(server.url + malice.path(), { method: 'POST', headers, body: malice.body() })
    await answer.arrayBuffer()
    statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1)
  }

  const overMqtt = async (packets: number) => {
    const socket = connect(server.mqttPort, '127.0.0.1')
    socket.on('error', () => undefined)
    const closed = closeOf(socket.resume())
    if (malice.below(10) > 0)
      socket.write(
        mqttPacket({
          cmd: 'connect',
          protocolId: 'MQTT',
          protocolVersion: 4,
          clientId: malice.of(['a', 'b', '', 'x'.repeat(200)]),
          clean: true,
          keepalive: 0,
          username: malice.below(10) > 0 ? mad.address : malice.of(['', '\0', 'calm']),
          password: Buffer.from(mad.secret),
        }),
      )
    for (let packet = 0; packet < packets && !socket.destroyed; packet++) {
      const qos = malice.of([0, 1, 2] as const)
      const [topic, payload] = [malice.topic(mad.address), malice.body()]
      const bytes =
        malice.below(40) === 0
          ? malice.noise()
          : mqttPacket({
              cmd: 'publish',
              topic,
              payload,
              qos,
              messageId: 1 + packet,
              dup: false,
              retain: malice.below(5) === 0,
            })
      if (!socket.write(bytes))
        await Promise.race([new Promise((drained) => socket.once('drain', drained)), closed])
    }
    socket.end(mqttPacket({ cmd: 'disconnect' }))
    await Promise.race([closed, new Promise((pause) => setTimeout(pause, 2000))])
    socket.destroy()
  }

  const udp = createSocket('udp4')
  const overCoap = async () => {
    const body = malice.body().subarray(0, 1000)
    const option = (name: string, value: string | Buffer) => ({ name, value: Buffer.from(value) }) as never
    const packet =
      malice.below(4) === 0
        ? malice.noise()
        : coapPacket({
            code: malice.of(['POST', 'GET', '0.00', '0.31']),
            confirmable: malice.below(2) === 0,
            messageId: malice.below(65_536),
            token: Buffer.from(malice.noise().subarray(0, 8)),
            options: [
              option('Uri-Path', malice.of(['in', 'in', 'in', 'x', ''])),
              ...Array.from({ length: malice.below(3) }, () => option('Uri-Path', malice.noise())),
              option('Uri-Query', malice.of([`key=${mad.token}`, `key=${mad.token}`, 'key=x.y', 'key'])),
              option('Content-Format', Buffer.from([malice.of([0, 50, 60, 110, 112, 255])])),
            ],
            payload: body,
          })
    await new Promise<void>((sent) => udp.send(packet, server.coapPort, '127.0.0.1', () => sent()))
  }

  const overLive = async () => {
    const socket = connect(Number(new URL(server.url).port), '127.0.0.1')
    socket.on('error', () => undefined)
    const path = malice.of(['/live', '/mqtt', '/x'])
    socket.write(
      `GET ${path} HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Protocol: mqtt\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n`,
    )
    socket.write(malice.noise())
    socket.end()
    await Promise.race([closeOf(socket.resume()), new Promise((pause) => setTimeout(pause, 1000))])
    socket.destroy()
  }

  const stretch = async (count: number) => {
    let left = count
    const worker = async () => {
      while (left > 0 && !crashed) {
        const kind = malice.below(1000)
        if (kind < 2) {
          left--
          await overLive()
        } else if (kind < 6) {
          left -= 100
          await overMqtt(100)
        } else if (kind < 500) {
          left--
          await overCoap()
        } else {
          left--
          await overHttp().catch((error: unknown) => {
            if (crashed) return
            throw error
          })
        }
      }
    }
    await Promise.all(Array.from({ length: 16 }, worker))
  }

  const watching = calmly()
  while (latencies.length < 200) await new Promise((pause) => setTimeout(pause, 50))
  const before = latencies.splice(0)
  await stretch(inputs * 0.2)
  const memoryBefore = memory()
  await stretch(inputs * 0.8)
  const memoryAfter = crashed ? 0 : memory()
  isOver = true
  await watching
  udp.close()
  const { faults } = crashed
    ? { faults: { count: -1, last: null } }
    : (await owner.call(routes.getCondition)).body
  const wasCrashed = crashed
  if (!crashed) {
    const ended = once(server.process, 'exit')
    server.process.kill('SIGTERM')
    await ended
  }
  return {
    inputs,
    statuses,
    faults: faults.count,
    lastFault: faults.last ? `${faults.last.where}: ${faults.last.message}` : '',
    crashed: wasCrashed,
    memory: { before: memoryBefore, after: memoryAfter },
    calm: { before, during: latencies },
  }
}
