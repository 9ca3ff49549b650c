import { statfs } from 'node:fs/promises'
import type { ClockTrust } from './clockTrust.ts'
import type { Heartbeat } from './heartbeat.ts'

/** How long a commit may take, ms. */
const deadline = 2000
/** However often it is asked for, it is found out once in this long, ms. */
const validFor = 1000
/** With less on the disk a busy day may fill it. */
const leastFreeBytes = 256 * 1024 * 1024

interface ReadinessParts {
  readonly heartbeat: Heartbeat
  readonly clock: Pick<ClockTrust, 'doubt'>
  /** Where the database keeps its data, where that is on this machine. */
  readonly dataFolder: string | undefined
  /** ms, only running forward. */
  readonly steady: () => number
}

/** What can be in the way of a server, each in words; undefined where it is not. */
export type InTheWay = Readonly<Record<'database' | 'disk' | 'clock', string | undefined>>

export const nothingInTheWay: InTheWay = { database: undefined, disk: undefined, clock: undefined }

/** Whether this server can do its work: what it commits is durable in time, the disk has room, and the clocks agree. */
export class Readiness {
  readonly #parts: ReadinessParts
  #askedAt = Number.NEGATIVE_INFINITY
  #answer: Promise<InTheWay> = Promise.resolve(nothingInTheWay)

  constructor(parts: ReadinessParts) {
    this.#parts = parts
  }

  /** What is in its way, in words; empty when it is ready. */
  async problems(): Promise<readonly string[]> {
    return Object.values(await this.inTheWay()).filter((problem) => problem !== undefined)
  }

  /** The same, by what it is of. */
  inTheWay(): Promise<InTheWay> {
    const now = this.#parts.steady()
    if (now - this.#askedAt >= validFor) {
      this.#askedAt = now
      this.#answer = this.#look()
    }
    return this.#answer
  }

  async #look(): Promise<InTheWay> {
    const [database, disk] = await Promise.all([this.#commit(), this.#disk()])
    const isDoubted = this.#parts.clock.doubt !== null
    return {
      database,
      disk,
      clock: isDoubted ? 'the clock of this server is not trusted; its pages say why' : undefined,
    }
  }

  async #commit(): Promise<string | undefined> {
    const late = `the database did not commit within ${deadline / 1000} s`
    let timer: NodeJS.Timeout | undefined
    const tooLate = new Promise<string>((resolve) => {
      timer = setTimeout(() => resolve(late), deadline)
    })
    const committed = this.#parts.heartbeat.beat(null).then(
      () => undefined,
      (error: unknown) => `the database does not commit: ${error instanceof Error ? error.message : error}`,
    )
    try {
      return await Promise.race([committed, tooLate])
    } finally {
      clearTimeout(timer)
    }
  }

  async #disk(): Promise<string | undefined> {
    const { dataFolder } = this.#parts
    if (dataFolder === undefined) return undefined
    const { bavail, bsize } = await statfs(dataFolder)
    const free = bavail * bsize
    return free < leastFreeBytes ? `the disk has ${Math.floor(free / 1024 / 1024)} MiB left` : undefined
  }
}
