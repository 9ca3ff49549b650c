import type { Reading } from '@jaunty-sparrow/core/signal'
import type { Logger } from 'pino'
import type { Heartbeat } from './heartbeat.ts'

const minute = 60_000
/** Clocks are taken to agree within this, ms. */
const agreement = 5 * minute
/** A machine that was off or asleep for longer looks like one whose clock jumped ahead. */
const longestAbsence = 24 * 60 * minute
/** So many messages whose own times agree with our clock prove it. */
const proof = 3

/** Why the clock of this server is not trusted. */
export interface ClockDoubt {
  readonly why: 'ahead' | 'behind' | 'database'
  /** What the clock said when it was found out, epoch ms. */
  readonly clock: number
  /** What it was held against: when a server lived last, or the clock of the database; epoch ms. */
  readonly against: number
}

interface ClockTrustParts {
  readonly heartbeat: Heartbeat
  /** Epoch ms. */
  readonly now: () => number
  /** ms, only running forward. */
  readonly steady: () => number
  /** When the newest message came in, epoch ms; 0 for none. It counts where no heartbeat is known. */
  readonly newestMessage: number
  readonly log: Logger
}

/**
 * Whether the clock of this server can be trusted with what is kept: a wrong one would drop everything that is younger than
 * it seems. It is held against the last heartbeat, the clock of the database, and itself a while ago. While they disagree
 * nothing is dropped, until devices' own times or a person confirm it.
 */
export class ClockTrust {
  readonly #parts: ClockTrustParts
  #doubt: ClockDoubt | null = null
  #lastTrusted: number | null = null
  #steadyThen: number | undefined
  #agreed = 0
  readonly #confirmedListeners: (() => void)[] = []
  /** By how much the clock of the database is known to be wrong, ms. */
  #knownDifference = 0

  private constructor(parts: ClockTrustParts) {
    this.#parts = parts
  }

  static async open(parts: ClockTrustParts): Promise<ClockTrust> {
    const trust = new ClockTrust(parts)
    const { lastAt } = await parts.heartbeat.read()
    trust.#lastTrusted = lastAt ?? (parts.newestMessage || null)
    await trust.look()
    return trust
  }

  /** Why the clock is not trusted; null when it is. */
  get doubt(): ClockDoubt | null {
    return this.#doubt
  }

  /** An instant that is known to have been, epoch ms; minus infinity when the clock itself knows best. */
  newestKnown(): number {
    if (!this.#doubt) return Number.NEGATIVE_INFINITY
    return this.#expected ?? this.#lastTrusted ?? Number.NEGATIVE_INFINITY
  }

  /** Looks at the clocks again, and leaves a heartbeat. To be called now and then. */
  async look(): Promise<void> {
    const { heartbeat, now, log } = this.#parts
    const { databaseAt } = await heartbeat.read()
    const before = this.#doubt
    this.#doubt = this.#assess(now(), databaseAt)
    if (this.#doubt && !before)
      log.warn(
        { doubt: this.#doubt },
        'the clock is not trusted: nothing is dropped until devices or an owner confirm it',
      )
    if (!this.#doubt) this.#trust()
    await heartbeat.beat(this.#doubt ? null : now())
  }

  /** Takes note of readings that were committed: those with a time of their own tell whether the clock is right. */
  heard(readings: readonly Reading[]): void {
    if (!this.#doubt || this.#doubt.why === 'database') return
    const agrees = readings.some(
      ({ at, receivedAt }) => at !== receivedAt && Math.abs(at - receivedAt) < agreement,
    )
    if (!agrees || ++this.#agreed < proof) return
    this.confirm().catch((error: unknown) =>
      this.#parts.log.warn({ err: error }, 'that the clock is trusted could not be stored'),
    )
  }

  /** The clock is right: a person says so, or devices do. Resolves when that is stored, for the next start. */
  async confirm(): Promise<void> {
    this.#parts.log.info('the clock is trusted')
    const { heartbeat, now } = this.#parts
    this.#doubt = null
    this.#trust()
    const { databaseAt } = await heartbeat.read()
    this.#knownDifference = now() - databaseAt
    await heartbeat.beat(now())
    for (const listener of this.#confirmedListeners) listener()
  }

  /** Calls back when the clock was confirmed: what had to wait for that can be done. */
  onConfirmed(listener: () => void): void {
    this.#confirmedListeners.push(listener)
  }

  /** What the clock should say by what it said when it was trusted, and by how long ago that was. */
  get #expected(): number | undefined {
    if (this.#lastTrusted === null || this.#steadyThen === undefined) return undefined
    return this.#lastTrusted + this.#parts.steady() - this.#steadyThen
  }

  #trust(): void {
    this.#lastTrusted = this.#parts.now()
    this.#steadyThen = this.#parts.steady()
    this.#agreed = 0
  }

  #assess(clock: number, database: number): ClockDoubt | null {
    const against = this.#expected ?? this.#lastTrusted
    if (against !== null) {
      if (clock > against + longestAbsence) return { why: 'ahead', clock, against }
      if (clock < against - agreement) return { why: 'behind', clock, against }
    }
    return Math.abs(clock - database - this.#knownDifference) > agreement
      ? { why: 'database', clock, against: database }
      : null
  }
}
