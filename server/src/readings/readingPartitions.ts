import { isPosition, type Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import type { KeptMessage } from '../messages/keptMessage.ts'
import { byDay, byMonth, Partitions } from '../store/partitions.ts'

const atOf = ({ at }: Reading): number => at

/** The tables that readings and messages are in, cut by time. */
export class ReadingPartitions {
  readonly #numbers: Partitions
  readonly #texts: Partitions
  readonly #positions: Partitions
  readonly #messages: Partitions

  constructor(pool: pg.Pool) {
    this.#numbers = new Partitions(pool, 'reading', byMonth)
    this.#texts = new Partitions(pool, 'text_reading', byMonth)
    this.#positions = new Partitions(pool, 'position_reading', byMonth)
    this.#messages = new Partitions(pool, 'message', byDay)
  }

  async prepare(now: number): Promise<void> {
    for (const each of [this.#numbers, this.#texts, this.#positions, this.#messages]) await each.prepare(now)
  }

  /** Makes whatever these need; costs next to nothing when it is there. */
  async ensure(readings: readonly Reading[], messages: readonly KeptMessage[] = []): Promise<void> {
    await this.#numbers.ensure(readings, atOf)
    if (readings.some(({ value }) => typeof value !== 'number')) {
      await this.#texts.ensure(
        readings.filter(({ value }) => typeof value === 'string'),
        atOf,
      )
      await this.#positions.ensure(
        readings.filter(({ value }) => isPosition(value)),
        atOf,
      )
    }
    await this.#messages.ensure(messages, ({ receivedAt }) => receivedAt)
  }

  /** How many months these readings would begin that hold nothing yet. */
  monthsBegun(readings: readonly Reading[]): number {
    const begun = [
      [this.#numbers, (value: Reading['value']) => typeof value === 'number'],
      [this.#texts, (value: Reading['value']) => typeof value === 'string'],
      [this.#positions, isPosition],
    ] as const
    return Math.max(
      ...begun.map(([table, isIn]) =>
        table.missing(
          readings.filter(({ value }) => isIn(value)),
          atOf,
        ),
      ),
    )
  }

  /** Drops the messages that came in before an instant. */
  dropMessagesBefore(instant: number): Promise<number> {
    return this.#messages.dropBefore(instant)
  }
}
