import setWith from 'lodash-es/setWith.js'

/** What a board is told, as it comes over the wire. */
export interface ToldCommand {
  readonly id: number
  /** `lamp/red` for the field `/lamp/red`. */
  readonly signal: string
  readonly value: unknown
  /** Epoch ms. */
  readonly until: number
}

/** What it says to it. */
export interface SaidToCommand {
  readonly id: number
  readonly says: 'done' | 'expired'
  readonly value?: unknown
}

/** How a board obeys. */
export interface Temper {
  /** How long it takes, ms. */
  readonly slowness: number
  /** How often it misses what it is told, 0..1. */
  readonly misses: number
  /** What of it has stuck for good. */
  readonly stuck?: readonly string[]
  /** What of it has no state. */
  readonly buttons?: readonly string[]
}

/** What was set by hand holds so long, ms; then the board goes its own way again. */
const holds = 30 * 60_000

/** The receiving side of a simulated board: it obeys no command twice and none that is late. */
export class Obedience {
  readonly #temper: Temper
  readonly #chance: () => number
  readonly #set = new Map<string, { readonly value: unknown; readonly until: number }>()
  readonly #lastIds = new Map<string, number>()

  /** @param chance a number from 0 to 1, another one each time */
  constructor(temper: Temper, chance: () => number) {
    this.#temper = temper
    this.#chance = chance
  }

  /** How long it will take over the next thing it is told, ms. */
  get delay(): number {
    return this.#temper.slowness * (0.5 + this.#chance())
  }

  /** @returns what it says; undefined where it missed it, or does not do what it was told */
  obey({ id, signal, value, until }: ToldCommand, now: number): SaidToCommand | undefined {
    const { misses, stuck = [], buttons = [] } = this.#temper
    if (this.#chance() < misses || stuck.includes(signal)) return undefined
    const isTrigger = buttons.includes(signal)
    if (id <= (this.#lastIds.get(signal) ?? 0)) return { id, says: 'done', ...(!isTrigger && { value }) }
    if (now > until) return { id, says: 'expired' }
    this.#lastIds.set(signal, id)
    if (isTrigger) return { id, says: 'done' }
    this.#set.set(signal, { value, until: now + holds })
    return { id, says: 'done', value }
  }

  /** What it says of itself, with what it was set to in place of its own ways. */
  applied(message: Readonly<Record<string, unknown>>, now: number): Record<string, unknown> {
    const said = structuredClone(message) as Record<string, unknown>
    for (const [signal, { value, until }] of this.#set) {
      if (now > until) this.#set.delete(signal)
      else setWith(said, signal.split('/'), value, Object)
    }
    return said
  }
}
