// Runs the database and the processes of the application together, and stops them together.
import { fork } from 'node:child_process'
import { join, resolve } from 'node:path'
import { ensureDatabase, startCluster } from './cluster.mjs'
import { lockHolder, tryLock } from './lock.mjs'
import { root, SetUpError } from './prepare.mjs'

/**
 * Starts things in order and stops them in reverse: `SIGINT`, `SIGTERM` and the end of any of its processes stop all.
 */
export class Application {
  #children = []
  #atEnd = []
  #stopping

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

  /** The address of the database: the one that was given, or the private cluster's. */
  async database(home) {
    if (process.env.DATABASE_URL) return process.env.DATABASE_URL
    const cluster = await startCluster(home)
    this.#atEnd.push(cluster.stop)
    await ensureDatabase(cluster, 'sparrow')
    return cluster.url('sparrow')
  }

  /**
   * Starts one of the TypeScript programs.
   * @returns the message in which it says that it is ready, and where
   */
  program(path, env, execArgv = []) {
    const child = fork(join(root, path), [], {
      cwd: root,
      env: { ...process.env, ...env },
      execArgv: ['--import', 'tsx', '--enable-source-maps', ...execArgv],
    })
    const ended = new Promise((done) => child.on('exit', done))
    this.#children.push({ child, ended })
    child.on('exit', (code, signal) => {
      if (this.#stopping) return
      console.error(`${path} has stopped (${signal ?? `exit code ${code}`}).`)
      this.stop(1)
    })
    // A watching process speaks of the files it watches on the same channel.
    return new Promise((ready) =>
      child.on('message', (message) => (message.url || message.signInUrl) && ready(message)),
    )
  }

  /** Stops everything, the last started first, and ends this process. */
  stop(code) {
    this.#stopping ??= this.#stop().then(() => process.exit(code))
    return this.#stopping
  }

  async #stop() {
    for (const { child, ended } of this.#children.reverse()) {
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
