import { isOpen, isSame } from '@jaunty-sparrow/core/command'
import { formatValue, isVoid, type Reading, type SignalValue } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import type pg from 'pg'
import type { Commands } from '../commands/commands.ts'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RuleCause } from '../store/schema.ts'
import { lastHands } from './lastHands.ts'

/** What was refused is asked for again after this, ms. */
const refusedAgain = 15_000
/** What a device did, or was so anyhow, and is no more, is asked for again after this, ms. */
const leftAgain = 60_000
/** What it did not do is asked for again after this, ms. */
const undoneAgain = 600_000
/** What may stand with a command, letters. */
const longestWhy = 200

interface AskHeldParts {
  readonly pool: pg.Pool
  readonly registry: DeviceRegistry
  readonly commands: Pick<Commands, 'request'>
  readonly latest: { of(signal: number): Reading | undefined }
  /** Epoch ms. */
  readonly now: () => number
  /** Told when something was asked for, or was refused otherwise than before. */
  readonly changed: () => void
}

interface Hold {
  readonly signal: number
  readonly wish: SignalValue
  readonly turn: number
  readonly asked: boolean
  readonly askedAt: number | null
  readonly problem: string
}

/** One that something may have to be done about. */
interface HoldRow extends Hold {
  readonly rule: string
  readonly because: readonly RuleCause[] | null
  /** How its last command stands. */
  readonly state: Parameters<typeof isOpen>[0] | null
  /** Whether a hand asked for that. */
  readonly byHand: boolean
}

const columns = `hold.signal_id as signal, hold.wish, hold.turn, hold.asked_turn = hold.turn as asked,
  round(extract(epoch from hold.asked_at) * 1000)::float8 as "askedAt", hold.problem`

/**
 * Asks signals for what their rules come to: what waits is in the database, each with its turn, so that it is asked once whoever
 * ends when. What a person asked for comes first; where a device does not what its rules want, it is asked again.
 */
export class AskHeld {
  readonly #parts: AskHeldParts

  constructor(parts: AskHeldParts) {
    this.#parts = parts
  }

  async run(): Promise<void> {
    const due = (await this.#unsettled()).filter((row) => this.#isDue(row))
    if (due.length === 0) return
    const { pool, now, changed } = this.#parts
    const hands = await lastHands(
      pool,
      due.map(({ signal }) => signal),
      now(),
    )
    let isChanged = false
    for (const row of due) if (!hands.has(row.signal)) isChanged = (await this.#ask(row)) || isChanged
    if (isChanged) changed()
  }

  /** Those that were not asked yet, or are not as they were asked to be. */
  async #unsettled(): Promise<HoldRow[]> {
    const { pool } = this.#parts
    const { rows: all } = await pool.query<Hold>({
      name: 'rule-holds',
      text: `select ${columns} from rule_hold hold where hold.wish is not null and hold.rule_id is not null`,
    })
    const unsettled = all.filter((hold) => !hold.asked || hold.problem !== '' || !this.#isSo(hold))
    if (unsettled.length === 0) return []
    const { rows } = await pool.query<HoldRow>({
      name: 'unsettled-rule-holds',
      text: `select ${columns}, rule.name as rule, act.because, last.state,
               last.id is not null and last.rule is null as "byHand"
             from rule_hold hold join rule on rule.id = hold.rule_id
               left join lateral (select because from rule_act where rule_id = hold.rule_id order by id desc limit 1) act on true
               left join lateral (select id, state, rule from command where signal_id = hold.signal_id order by id desc limit 1) last on true
             where hold.wish is not null and hold.signal_id = any($1::int[])`,
      values: [unsettled.map(({ signal }) => signal)],
    })
    return rows
  }

  /** Whether a signal says that it is as its rules want it. */
  #isSo({ signal, wish }: Pick<Hold, 'signal' | 'wish'>): boolean {
    const { registry, latest } = this.#parts
    const said = latest.of(signal)
    const step = registry.signal(signal)?.signal.definition.control?.step ?? null
    return said !== undefined && !isVoid(said.quality) && isSame(said.value, wish, step)
  }

  #isDue(row: HoldRow): boolean {
    const { registry, now } = this.#parts
    if (!row.asked) return true
    if (row.problem !== '') return now() - (row.askedAt ?? 0) >= refusedAgain
    const isMomentary = registry.signal(row.signal)?.signal.definition.kind === 'momentary'
    const isOpenYet = row.state !== null && isOpen(row.state)
    // Where it was in a hand, it goes back as soon as it is in none.
    if (row.byHand && !isMomentary) return isOpenYet || !this.#isSo(row)
    if (isMomentary || isOpenYet || this.#isSo(row)) return false
    const wasSo = row.state === null || row.state === 'confirmed'
    return now() - (row.askedAt ?? 0) >= (wasSo ? leftAgain : undoneAgain)
  }

  /** @returns whether something is otherwise than before */
  async #ask(row: HoldRow): Promise<boolean> {
    const { registry, commands, pool, now } = this.#parts
    const known = registry.signal(row.signal)
    const device = registry.get(known?.address ?? '')
    if (!known || !device) return false
    const isOpenYet = row.state !== null && isOpen(row.state)
    const isSo = known.signal.definition.kind !== 'momentary' && this.#isSo(row) && !isOpenYet
    // One that asks again does so in a turn of its own, which is taken down first: a new wish may have taken it meanwhile.
    const turn = row.asked ? await this.#nextTurn(row) : row.turn
    if (turn === undefined) return false
    const wished = isSo
      ? undefined
      : await commands.request(
          { device, signal: known.signal },
          row.wish,
          { rule: row.rule, turn },
          `${row.byHand && row.asked ? 'The hand is over. ' : ''}${this.#why(row.because ?? [])}`.slice(
            0,
            longestWhy,
          ),
        )
    const problem = wished?.refused ?? ''
    await pool.query(
      `update rule_hold set asked_turn = $2, asked_at = to_timestamp($3::float8 / 1000), problem = $4
       where signal_id = $1 and turn = $2`,
      [row.signal, turn, now(), problem],
    )
    return problem !== row.problem || wished?.command != null
  }

  async #nextTurn({ signal, turn }: HoldRow): Promise<number | undefined> {
    const { rowCount } = await this.#parts.pool.query(
      'update rule_hold set turn = turn + 1 where signal_id = $1 and turn = $2',
      [signal, turn],
    )
    return rowCount === 1 ? turn + 1 : undefined
  }

  #why(because: readonly RuleCause[]): string {
    return because
      .map(({ signalId, name, value }) => {
        const definition = this.#parts.registry.signal(signalId)?.signal.definition
        if (value === null || !definition) return `${name} says nothing`
        const unit = definition.unit === null ? '' : ` ${unitSymbol(definition.unit)}`
        return `${name} ${formatValue(value, definition)}${unit}`
      })
      .join(', ')
  }
}
