import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { type Logger, pino } from 'pino'
import { createApplication } from './api/application.ts'
import type { Config } from './config.ts'
import { httpDoor, isForDoor } from './doors/httpDoor.ts'
import { DeviceRegistry } from './ingest/deviceRegistry.ts'
import { GroupCommit } from './ingest/groupCommit.ts'
import { StraightWay } from './ingest/straightWay.ts'
import { LiveHub } from './live/hub.ts'
import { LiveSocketServer } from './live/socketServer.ts'
import { SessionKeeper } from './people/sessionKeeper.ts'
import { migrateDatabase, openDatabase } from './store/database.ts'
import { Partitions } from './store/partitions.ts'
import { ReadingStore } from './store/readings.ts'

export interface RunningServer {
  /** Where it listens, such as `http://127.0.0.1:7600`. */
  readonly url: string
  readonly close: () => Promise<void>
}

interface Surroundings {
  readonly webRoot: string | undefined
  readonly now: () => number
}

const sixHours = 6 * 3_600_000
/** How long requests on their way may take when the server stops, ms. */
const patience = 3000

/** Puts the parts together and starts to listen. */
export async function startServer(config: Config, { webRoot, now }: Surroundings): Promise<RunningServer> {
  const log = pino({
    level: config.logLevel,
    redact: ['*.authorization', '*.cookie', 'req.headers.authorization', 'req.headers.cookie'],
  })
  await migrateDatabase(config.databaseUrl)
  const database = openDatabase(config.databaseUrl, log)
  const store = new ReadingStore(database.$client)
  const partitions = new Partitions(database.$client)
  await partitions.prepare(now())
  const preparing = setInterval(() => {
    partitions
      .prepare(now())
      .catch((error: unknown) => log.warn({ err: error }, 'partitions could not be made ahead'))
  }, sixHours)

  const hub = new LiveHub(() => performance.now())
  hub.load(await store.latest())
  const registry = new DeviceRegistry(database)
  await registry.load()
  const commit = new GroupCommit(async (readings) => {
    await partitions.ensure(readings)
    await store.write(readings)
  })
  const straightWay = new StraightWay(registry, commit, hub)
  const sessions = new SessionKeeper(database, now)
  const live = new LiveSocketServer(hub, sessions, now)

  const door = httpDoor({ registry, straightWay, now, log })
  const application = createApplication({
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
    isForDoor(request) ? door(request, response) : application(request, response),
  )
  server.on('upgrade', (request, socket, head) => {
    if (request.url === '/live') void live.upgrade(request, socket, head)
    else socket.destroy()
  })
  const url = await listen(server, config, log)

  return {
    url,
    close: async () => {
      clearInterval(preparing)
      live.close()
      const closed = new Promise((done) => server.close(done))
      server.closeIdleConnections()
      const impatient = setTimeout(() => server.closeAllConnections(), patience)
      await commit.settled()
      await closed
      clearTimeout(impatient)
      await database.$client.end()
    },
  }
}

function listen(server: Server, { host, port }: Config, log: Logger): Promise<string> {
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRINUSE') {
        reject(new Error(`Port ${port} on ${host} is taken by another program; set PORT to a free one.`))
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
