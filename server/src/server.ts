import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { arrivalsToLearnFrom } from '@jaunty-sparrow/core'
import { type Logger, pino } from 'pino'
import { createApplication } from './api/application.ts'
import { MessageNumbers } from './arrivals/keptMessage.ts'
import { RefusalRecorder } from './arrivals/recorder.ts'
import { Replaying } from './arrivals/replaying.ts'
import { TakingUp } from './arrivals/takingUp.ts'
import { type Config, ConfigError } from './config.ts'
import { BrokerDoor } from './doors/brokerDoor.ts'
import { CoapDoor } from './doors/coapDoor.ts'
import { httpDoor, isForDoor } from './doors/httpDoor.ts'
import { MqttDoor } from './doors/mqttDoor.ts'
import { SerialDoor } from './doors/serialDoor.ts'
import { DeviceRegistry } from './ingest/deviceRegistry.ts'
import { GroupCommit } from './ingest/groupCommit.ts'
import { resumeThinning } from './ingest/resumeThinning.ts'
import { StraightWay } from './ingest/straightWay.ts'
import { Thinning } from './ingest/thinning.ts'
import { Throttle } from './ingest/throttle.ts'
import { LiveHub } from './live/hub.ts'
import { Peers, readingsOf } from './live/peers.ts'
import { LiveSocketServer } from './live/socketServer.ts'
import { hasOwner } from './people/hasOwner.ts'
import { SessionKeeper } from './people/sessionKeeper.ts'
import { newToken } from './people/token.ts'
import { type Database, migrateDatabase, openDatabase } from './store/database.ts'
import { Intake } from './store/intake.ts'
import { MessageStore } from './store/messages.ts'
import { byDay, byMonth, Partitions } from './store/partitions.ts'
import { ReadingStore } from './store/readings.ts'
import { ReplayStore } from './store/replays.ts'
import { ServerNumber } from './store/serverNumber.ts'

export interface RunningServer {
  /** Where it listens, such as `http://127.0.0.1:7600`. */
  readonly url: string
  /** Where it listens for MQTT; undefined when the usual port was taken. */
  readonly mqttPort: number | undefined
  /** Where it listens for CoAP; undefined when it does not. */
  readonly coapPort: number | undefined
  /** What creates the owner from another machine; undefined when there is an owner. It is for the eyes of who started this. */
  readonly firstRunToken: string | undefined
  readonly close: () => Promise<void>
}

interface Surroundings {
  readonly webRoot: string | undefined
  readonly now: () => number
}

const sixHours = 6 * 3_600_000
const day = 86_400_000
/** How long requests on their way may take when the server stops, ms. */
const patience = 3000

/** Puts the parts together and starts to listen. */
export async function startServer(config: Config, { webRoot, now }: Surroundings): Promise<RunningServer> {
  const log = pino({
    level: config.logLevel,
    redact: ['*.authorization', '*.cookie', 'req.headers.authorization', 'req.headers.cookie'],
  })
  await migrateDatabase(config.databaseUrl)
  const serverNumber = await ServerNumber.take(config.databaseUrl, log)
  const database = openDatabase(config.databaseUrl, log)
  const store = new ReadingStore(database.$client)
  const readingPartitions = new Partitions(database.$client, 'reading', byMonth)
  const messagePartitions = new Partitions(database.$client, 'message', byDay)
  const replays = new ReplayStore(database.$client, readingPartitions)
  const tidyPartitions = async () => {
    await readingPartitions.prepare(now())
    await messagePartitions.prepare(now())
    await messagePartitions.dropBefore(now() - config.messageDays * day)
    await replays.dropBefore(now() - config.messageDays * day)
  }
  await tidyPartitions()
  const tidying = setInterval(() => {
    tidyPartitions().catch((error: unknown) => log.warn({ err: error }, 'partitions could not be tidied'))
  }, sixHours)

  const hub = new LiveHub(() => performance.now())
  const registry = new DeviceRegistry(database)
  const peers = await joinPeers({ registry, hub, store, database, serverNumber, config, log })
  const intake = new Intake(database.$client, readingPartitions, messagePartitions)
  const messages = new MessageStore(database.$client)
  registry.recall(await messages.lastArrivals(arrivalsToLearnFrom))
  const thinning = new Thinning(
    () => registry.thinned(),
    (readings, kept) => intake.write(readings, kept),
  )
  await resumeThinning({ registry, messages, thinning })
  const closing = setInterval(() => {
    thinning
      .closeIntervals(now())
      .catch((error: unknown) => log.warn({ err: error }, 'thinned readings wait: they could not be stored'))
  }, 1000)
  const commit = new GroupCommit(thinning.write)
  const known = Array.from(registry.all(), ({ id }) => id)
  const { next: number } = new MessageNumbers(await messages.newest(0, ...known), serverNumber.value)
  const recorder = new RefusalRecorder({
    number,
    write: (messages) => intake.write([], messages),
    tell: (message) => hub.arrived(message),
    log,
  })
  const throttle = new Throttle(() => performance.now())
  const straightWay = new StraightWay({ registry, commit, listener: hub, recorder, throttle, number })
  const sessions = new SessionKeeper(database, now)
  const live = new LiveSocketServer(hub, sessions, now)

  const door = { registry, straightWay, recorder, now, log }
  const http = httpDoor(door)
  const { mqttUrl } = config
  const broker = mqttUrl === undefined ? undefined : new BrokerDoor(mqttUrl, config.serverName, door)
  const mqtt = broker ? undefined : await MqttDoor.open(door)
  const mqttPort = mqtt && (await listenForMqtt(mqtt, config, log))
  const coap = config.coapPort === undefined ? undefined : new CoapDoor(door)
  const coapPort = await listenForCoap(coap, config)
  const serial = await SerialDoor.open({ ...door, database, changed: () => hub.devicesChanged() })
  const firstRunToken = newToken()
  const application = createApplication({
    firstRunToken,
    serial,
    coapPort,
    messages,
    straightWay,
    recorder,
    replays,
    replaying: new Replaying({ registry, messages, readings: store, replays }),
    takingUp: new TakingUp({ registry, straightWay, intake, messages, listener: hub }),
    mqttPort,
    database,
    registry,
    commit,
    store,
    hub,
    sessions,
    log,
    now,
    webRoot,
  })
  const server = createServer((request, response) =>
    isForDoor(request) ? http(request, response) : application(request, response),
  )
  server.on('upgrade', (request, socket, head) => {
    if (request.url === '/live') void live.upgrade(request, socket, head)
    else if (request.url === '/mqtt' && mqtt) mqtt.upgrade(request, socket, head)
    else socket.destroy()
  })
  const url = await listen(server, config, log)

  return {
    url,
    mqttPort,
    coapPort,
    firstRunToken: (await hasOwner(database)) ? undefined : firstRunToken,
    close: async () => {
      clearInterval(tidying)
      clearInterval(closing)
      live.close()
      await mqtt?.close()
      await broker?.close()
      await coap?.close()
      await serial.close()
      const closed = new Promise((done) => server.close(done))
      server.closeIdleConnections()
      const impatient = setTimeout(() => server.closeAllConnections(), patience)
      await commit.settled()
      await recorder.flush()
      await closed
      clearTimeout(impatient)
      await peers.close()
      await serverNumber.release()
      await database.$client.end()
    },
  }
}

interface PeerParts {
  readonly registry: DeviceRegistry
  readonly hub: LiveHub
  readonly store: ReadingStore
  readonly database: Database
  readonly serverNumber: ServerNumber
  readonly config: Config
  readonly log: Logger
}

/**
 * Reads what there is, and from then on lets this server and others on the same database know of each other's devices and
 * readings.
 */
async function joinPeers(parts: PeerParts): Promise<Peers> {
  const { registry, hub, store, database, serverNumber, config, log } = parts
  const reload = async (kitId?: number) => {
    await registry.load(kitId, 'elsewhere')
    hub.devicesChanged()
  }
  const complain = (error: unknown) => log.warn({ err: error }, 'what another server told could not be read')
  const peers = await Peers.join({
    url: config.databaseUrl,
    pool: database.$client,
    number: serverNumber.value,
    log,
    heard: (notice) => {
      if (notice.kind === 'loaded') reload(notice.kitId ?? undefined).catch(complain)
      if (notice.kind === 'forgotten') registry.forget(notice.address, 'elsewhere')
      if (notice.kind === 'sites') hub.sitesChanged('elsewhere')
      if (notice.kind === 'readings') hub.readings(readingsOf(notice), 'elsewhere')
      if (notice.kind === 'arrivals') hub.arrivedElsewhere(notice.arrivals, notice.skipped)
    },
    listening: async () => {
      await reload()
      hub.load(await store.latest())
    },
  })
  registry.onChange((change, from) => from === 'here' && peers.tell(change))
  hub.onNews((news) => {
    if (news.kind === 'readings') peers.tellReadings(news.readings)
    if (news.kind === 'arrived') peers.tellArrival(news.message)
    if (news.kind === 'sites') peers.tell(news)
  })
  return peers
}

const usualMqttPort = 1883

/** A port that was asked for must be had; the usual one may belong to a broker that is there already. */
async function listenForMqtt(
  door: MqttDoor,
  { host, mqttPort }: Config,
  log: Logger,
): Promise<number | undefined> {
  try {
    return await door.listen(mqttPort ?? usualMqttPort, host)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
    if (mqttPort !== undefined) throw portTaken(mqttPort, host, 'MQTT_PORT')
    log.warn(
      `port ${usualMqttPort} is taken, so the MQTT door is open at /mqtt only; MQTT_PORT sets another one`,
    )
    return undefined
  }
}

async function listenForCoap(
  door: CoapDoor | undefined,
  { host, coapPort = 0 }: Config,
): Promise<number | undefined> {
  try {
    return await door?.listen(coapPort, host)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
    throw portTaken(coapPort, host, 'COAP_PORT')
  }
}

const portTaken = (port: number, host: string, variable: string): ConfigError =>
  new ConfigError(`Port ${port} on ${host} is taken by another program; set ${variable} to a free one.`)

function listen(server: Server, { host, port }: Config, log: Logger): Promise<string> {
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRINUSE') {
        reject(portTaken(port, host, 'PORT'))
      } else reject(error)
    })
    server.listen(port, host, () => {
      const { address, family, port: chosen } = server.address() as AddressInfo
      const url = `http://${family === 'IPv6' ? `[${address}]` : address}:${chosen}`
      log.info({ url }, 'listening')
      resolve(url)
    })
  })
}
