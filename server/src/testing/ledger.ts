import { createSocket } from 'node:dgram'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as rest } from 'node:timers/promises'
import { routes } from '@jaunty-sparrow/contract'
import { generate, parse } from 'coap-packet'
import mqtt from 'mqtt'
import pg from 'pg'
import { type Cluster, ensureDatabase, startCluster } from '../../../launch/cluster.mjs'
import { Cable } from './cable.ts'
import { TestPerson } from './serverUnderTest.ts'
import { type SpawnedServer, spawnServer } from './spawnedServer.ts'

/** What is ended without a word: the server, the database, or whoever started the server. */
const killed = ['server', 'database', 'launcher'] as const
type Killed = (typeof killed)[number]

/** What a door acknowledged, and what of it was found. */
export interface Account {
  readonly acknowledged: number
  readonly lost: number
  /** Readings that were found more than once. */
  readonly doubled: number
}

/** What one sender was told to be stored. */
class Book {
  readonly address: string
  readonly acknowledged = new Set<number>()
  next = 0

  constructor(address: string) {
    this.address = address
  }
}

/** A time of its own for each reading, all of them in the last day. */
const instantOf = (base: number, n: number) => base + n

interface Stage {
  server: SpawnedServer
  readonly base: number
  readonly token: (address: string) => string
  isOver: boolean
}

/**
 * Keeps a ledger: devices at every door send as fast as they are answered, while the server, its database and its launcher are
 * killed. What was acknowledged must be there afterwards, once. A serial line acknowledges nothing: of it only what was stored
 * twice is counted.
 */
export async function keepLedger(kills: number, chance: () => number): Promise<Record<string, Account>> {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-ledger-'))
  const cluster = await startCluster(folder)
  const cable = new Cable(folder, 'tty')
  await cable.plugIn()
  try {
    await ensureDatabase(cluster, 'sparrow')
    return await run(cluster, cable, kills, chance)
  } finally {
    await cable.pull()
    cluster.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

async function run(cluster: Cluster, cable: Cable, kills: number, chance: () => number) {
  const url = cluster.url('sparrow')
  // One name all along: a serial line belongs to the server that was told of it.
  const ports = { COAP_PORT: '0', SERVER_NAME: 'ledger' }
  const first = await spawnServer(url, ports)
  const books = ['http', 'http-2', 'mqtt-1', 'mqtt-2', 'coap', 'serial'].map((address) => new Book(address))
  const secrets = await describe(first, books, cable)
  const stage: Stage = {
    server: first,
    base: Date.now() - 12 * 3_600_000,
    token: (address) => `${address}.${secrets.get(address)}`,
    isOver: false,
  }
  const kept = {
    ...ports,
    PORT: new URL(first.url).port,
    MQTT_PORT: String(first.mqttPort),
    COAP_PORT: String(first.coapPort),
  }
  const [http, http2, mqtt1, mqtt2, coap, serial] = books as [Book, Book, Book, Book, Book, Book]
  const senders = [
    ...Array.from({ length: 4 }, () => overHttp(stage, http)),
    overHttp(stage, http2),
    overMqtt(stage, mqtt1, 1, secrets),
    overMqtt(stage, mqtt2, 2, secrets),
    overCoap(stage, coap),
    overSerial(stage, serial, cable),
  ]
  for (let kill = 0; kill < kills; kill++) {
    await more(books, 3)
    await rest(chance() * 200)
    await end(killed[Math.floor(chance() * killed.length)] ?? 'server', stage, cluster, () =>
      spawnServer(url, kept),
    )
  }
  await more(books, 3)
  stage.isOver = true
  await Promise.all(senders)
  const accounts = await audit(url, books, stage)
  const ended = once(stage.server.process, 'exit')
  stage.server.process.kill('SIGTERM')
  await ended
  return accounts
}

/** Makes the devices, and describes their one signal so that nothing has to be guessed. @returns their secrets */
async function describe(
  server: SpawnedServer,
  books: readonly Book[],
  cable: Cable,
): Promise<Map<string, string>> {
  const owner = new TestPerson(server.url)
  await owner.becomeOwner(server.firstRunToken)
  const secrets = new Map<string, string>()
  for (const { address } of books) {
    secrets.set(address, (await owner.createDevice(address)).secret)
    await owner.limit(address, { messagesPerMinute: 1_000_000 })
  }
  await owner.call(routes.setSerialPort, {
    params: { address: 'serial' },
    body: { path: cable.port, speed: 115_200, csvHeader: null },
  })
  return secrets
}

/** Waits until so much more was acknowledged at each door that acknowledges. */
async function more(books: readonly Book[], count: number): Promise<void> {
  const wanted = books.map(({ address, acknowledged }) =>
    address === 'serial' ? 0 : acknowledged.size + count,
  )
  const deadline = Date.now() + 120_000
  while (books.some(({ acknowledged }, index) => acknowledged.size < (wanted[index] ?? 0))) {
    if (Date.now() > deadline) throw new Error('nothing is acknowledged any more')
    await rest(10)
  }
}

async function end(
  what: Killed,
  stage: Stage,
  cluster: Cluster,
  start: () => Promise<SpawnedServer>,
): Promise<void> {
  if (what === 'database') {
    cluster.kill()
    while (!cluster.restart()) await rest(200)
    return
  }
  const { process: child } = stage.server
  const ended = once(child, 'exit')
  if (what === 'server') child.kill('SIGKILL')
  else child.disconnect()
  await ended
  stage.server = await start()
}

async function overHttp(stage: Stage, book: Book): Promise<void> {
  while (!stage.isOver) {
    const n = book.next++
    for (let isStored = false; !isStored; ) {
      const answer = await fetch(`${stage.server.url}/in`, {
        method: 'POST',
        headers: { Authorization: `Bearer ${stage.token(book.address)}`, 'Content-Type': 'application/json' },
        body: JSON.stringify({ n, t: instantOf(stage.base, n) }),
        signal: AbortSignal.timeout(10_000),
      }).catch(() => undefined)
      if (answer && answer.status !== 204 && answer.status < 500)
        throw new Error(`HTTP answered ${answer.status}: ${await answer.text()}`)
      isStored = answer?.status === 204
      if (!isStored) await rest(50)
    }
    book.acknowledged.add(n)
  }
}

async function overMqtt(stage: Stage, book: Book, qos: 1 | 2, secrets: Map<string, string>): Promise<void> {
  const client = mqtt.connect(`mqtt://127.0.0.1:${stage.server.mqttPort}`, {
    username: book.address,
    password: secrets.get(book.address) ?? '',
    clientId: 'ledger',
    clean: false,
    reconnectPeriod: 100,
    connectTimeout: 2000,
  })
  client.on('error', () => undefined)
  const one = async () => {
    while (!stage.isOver) {
      const n = book.next++
      const body = JSON.stringify({ n, t: instantOf(stage.base, n) })
      // The client lets go of what it was about to send when its connection breaks just then.
      for (let isStored = false; !isStored; ) {
        const sent = client.publishAsync(`sparrow/${book.address}/in`, body, { qos })
        isStored = await sent.then(
          () => true,
          () => rest(20, false),
        )
      }
      book.acknowledged.add(n)
    }
  }
  await Promise.all(Array.from({ length: 5 }, one))
  await client.endAsync(true)
}

async function overCoap(stage: Stage, book: Book): Promise<void> {
  const socket = createSocket('udp4')
  socket.on('error', () => undefined)
  let heard: (messageId: number, code: string) => void = () => undefined
  socket.on('message', (bytes) => {
    const { messageId, code } = parse(bytes)
    heard(messageId, code)
  })
  while (!stage.isOver) {
    const n = book.next++
    const messageId = n % 65_536
    const packet = generate({
      code: 'POST',
      messageId,
      token: Buffer.from([n & 255, (n >> 8) & 255, (n >> 16) & 255]),
      confirmable: true,
      options: [
        { name: 'Uri-Path', value: Buffer.from('in') },
        { name: 'Uri-Query', value: Buffer.from(`key=${stage.token(book.address)}`) },
        { name: 'Content-Format', value: Buffer.from([50]) },
      ],
      payload: Buffer.from(JSON.stringify({ n, t: instantOf(stage.base, n) })),
    })
    for (let code = ''; code !== '2.04'; ) {
      const answer = new Promise<string>((resolve) => {
        heard = (id, said) => id === messageId && resolve(said)
      })
      socket.send(packet, stage.server.coapPort, '127.0.0.1')
      code = await Promise.race([answer, rest(500, '')])
      if (code !== '' && code !== '2.04' && code !== '5.03') throw new Error(`CoAP answered ${code}`)
      if (code === '5.03') await rest(50)
    }
    book.acknowledged.add(n)
  }
  socket.close()
}

/** It has no time of its own, so what is taken twice is stored twice. */
async function overSerial(stage: Stage, book: Book, cable: Cable): Promise<void> {
  while (!stage.isOver) {
    await cable.print(`{"n": ${book.next++}}\n`)
    await rest(20)
  }
}

async function audit(url: string, books: readonly Book[], { base }: Stage): Promise<Record<string, Account>> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  const accounts: Record<string, Account> = {}
  for (const { address, acknowledged } of books) {
    const { rows } = await client.query<[number, number]>({
      text: `select value, round(extract(epoch from at) * 1000)::float8 from reading
        join signal on signal.id = signal_id join device on device.id = device_id where address = $1`,
      values: [address],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    const isRight = ([n, at]: readonly [number, number]) => address === 'serial' || at === instantOf(base, n)
    const stored = new Set(rows.filter(isRight).map(([n]) => n))
    accounts[address] = {
      acknowledged: address === 'serial' ? stored.size : acknowledged.size,
      lost: [...acknowledged].filter((n) => !stored.has(n)).length,
      doubled: rows.length - new Set(rows.map(([n]) => n)).size,
    }
  }
  await client.end()
  return accounts
}
