// Runs the database and the processes of the application together, keeps them up, and stops them together.
import { fork } from 'node:child_process'
import { join, resolve } from 'node:path'
import { setTimeout as rest } from 'node:timers/promises'
import { ensureDatabase, startCluster } from './cluster.mjs'
import { lockHolder, tryLock } from './lock.mjs'
import { root, SetUpError } from './prepare.mjs'
import { Restarts } from './restarts.mjs'

/** How often is looked whether the database lives, ms: it is no child of ours. */
const lookInterval = 500

/**
 * Starts things in order and stops them in reverse: `SIGINT` and `SIGTERM` stop all. What dies by itself is started again, at
 * the same address, after a rest that grows; what dies again and again at once is given up, and everything with it.
 */
export class Application {
  #children = new Set()
  #atEnd = []
  #stopping
  /** Resolves when the database is up. */
  #databaseUp = Promise.resolve()

  constructor() {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => this.stop(0))
  }

  /** Takes a home folder for itself; a second application would tread on the first one's data. */
  occupy(home) {
    const file = join(home, 'running')
    const release = tryLock(file)
    if (!release) {
      throw new SetUpError(
        `This is running already, as process ${lockHolder(file)}. Stop that first, or set SPARROW_HOME to another folder.`,
      )
    }
    this.#atEnd.push(release)
  }

  /** How to reach the database: the one that was given, or the private cluster's. */
  async database(home) {
    if (process.env.DATABASE_URL) return { DATABASE_URL: process.env.DATABASE_URL }
    const cluster = await startCluster(home)
    this.#atEnd.push(cluster.stop)
    await ensureDatabase(cluster, 'sparrow')
    this.#keepUp(cluster)
    return { DATABASE_URL: cluster.url('sparrow'), DATABASE_FOLDER: cluster.data }
  }

  #keepUp(cluster) {
    const restarts = new Restarts()
    let startedAt = Date.now()
    const looking = setInterval(() => {
      if (cluster.isRunning() || this.#stopping) return
      clearInterval(looking)
      this.#databaseUp = this.#bringUp(cluster, restarts, startedAt).then((upSince) => {
        startedAt = upSince
        if (!this.#stopping) this.#keepUp(cluster)
      })
    }, lookInterval)
    this.#atEnd.push(() => clearInterval(looking))
  }

  /** @returns when it was up again */
  async #bringUp(cluster, restarts, startedAt) {
    let lived = Date.now() - startedAt
    let wasUp = true
    while (!this.#stopping) {
      const pause = restarts.next(lived, wasUp)
      if (pause === undefined) {
        console.error(`PostgreSQL dies again and again; ${cluster.log} and the files beside it say why.`)
        await this.stop(1)
        break
      }
      console.error(`PostgreSQL has stopped; it is started again in ${pause / 1000} s.`)
      await rest(pause)
      if (this.#stopping) break
      if (cluster.restart()) {
        console.error('PostgreSQL is up again.')
        break
      }
      lived = 0
      wasUp = false
    }
    return Date.now()
  }

  /**
   * Starts one of the TypeScript programs, and starts it again when it dies.
   * @param told called with the message in which it says that it is ready and where, each time it is
   * @param addresses the settings that keep it where it is when it is started again, by that message
   * @returns that message, once it is ready at first
   */
  async program(path, env, { execArgv = [], told = () => undefined, addresses = () => ({}) } = {}) {
    const restarts = new Restarts()
    let kept = {}
    let wasReady = false
    return new Promise((ready) => {
      const start = () => {
        const startedAt = Date.now()
        let isReady = false
        const child = fork(join(root, path), [], {
          cwd: root,
          env: { ...process.env, ...env, ...kept },
          execArgv: ['--import', 'tsx', '--enable-source-maps', ...execArgv],
        })
        const running = { child, ended: new Promise((done) => child.on('exit', done)) }
        this.#children.add(running)
        // A watching process speaks of the files it watches on the same channel.
        child.on('message', (message) => {
          if (!message.url && !message.signInUrl) return
          kept = addresses(message)
          isReady = true
          wasReady = true
          told(message)
          ready(message)
        })
        child.on('exit', async (code, signal) => {
          this.#children.delete(running)
          if (this.#stopping) return
          const how = signal ?? `exit code ${code}`
          const pause = wasReady ? restarts.next(Date.now() - startedAt, isReady) : undefined
          if (pause === undefined) {
            console.error(
              wasReady
                ? `${path} dies again and again (${how}); what it printed above says why.`
                : `${path} did not start (${how}).`,
            )
            this.stop(1)
            return
          }
          console.error(`${path} has stopped (${how}); it is started again in ${pause / 1000} s.`)
          await rest(pause)
          await this.#databaseUp
          if (!this.#stopping) start()
        })
      }
      start()
    })
  }

  /** The server: started again, it is found where it was. */
  server(env, told, execArgv = []) {
    return this.program('server/src/main.ts', env, {
      execArgv,
      told,
      addresses: ({ url, secureUrl, mqttPort, mqttTlsPort, coapPort }) => ({
        PORT: new URL(url).port,
        ...(secureUrl && { TLS_PORT: new URL(secureUrl).port }),
        ...(mqttTlsPort && { MQTT_TLS_PORT: String(mqttTlsPort) }),
        ...(mqttPort && { MQTT_PORT: String(mqttPort) }),
        ...(coapPort && { COAP_PORT: String(coapPort) }),
      }),
    })
  }

  /** What takes mail and calls in place of the world: where mail is taken, and where it is read. */
  sinks() {
    const addresses = ({ url, mailUrl }) => ({
      SINK_PORT: new URL(url).port,
      SINK_MAIL_PORT: new URL(mailUrl).port,
    })
    return this.program('standins/src/sinks/main.ts', {}, { addresses })
  }

  /** The boards of the demo, which own what they describe. */
  standIns(url, home, firstRunToken = '', sinkUrl = '') {
    return this.program('standins/src/main.ts', {
      SINK_URL: sinkUrl,
      SPARROW_URL: url,
      SPARROW_HOME: home,
      FIRST_RUN_TOKEN: firstRunToken,
    })
  }

  /** Stops everything, the last started first, and ends this process. */
  stop(code) {
    this.#stopping ??= this.#stop().then(() => process.exit(code))
    return this.#stopping
  }

  async #stop() {
    for (const { child, ended } of [...this.#children].reverse()) {
      child.kill('SIGTERM')
      await ended
    }
    for (const end of this.#atEnd.reverse()) end()
  }
}

/** The folder where the data of a command lives: `SPARROW_HOME`, or its own one under `.sparrow/`. */
export const homeFolder = (name) => resolve(process.env.SPARROW_HOME ?? join(root, '.sparrow', name))

/** Runs a command; what the person has to put right is shown as it is, anything else with its stack. */
export async function main(command) {
  try {
    await command()
  } catch (error) {
    console.error(error instanceof SetUpError ? `\n${error.message}` : error)
    process.exit(1)
  }
}
