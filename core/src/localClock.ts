import { tzOffset } from '@date-fns/tz/tzOffset'

/** Time zones change their offset at whole quarters of an hour. */
const quarter = 900_000
const day = 86_400_000

/**
 * Reads what a clock on a wall showed, row after row, as instants. An hour that came twice, when summer time ended, is told
 * apart by the order of the rows: the second time begins where the clock stepped back.
 */
export class LocalClock {
  readonly #zone: string
  readonly #offsets = new Map<number, number>()
  #previous = Number.NEGATIVE_INFINITY

  /** @param zone IANA name */
  constructor(zone: string) {
    this.#zone = zone
  }

  /**
   * @param shown what the clock showed, as epoch ms it would be in UTC
   * @returns epoch ms; undefined for an hour that never was, when summer time began
   */
  instant(shown: number): number | undefined {
    const candidates = [this.#offset(shown - day), this.#offset(shown + day)]
      .map((offset) => shown - offset)
      .filter((at) => at + this.#offset(at) === shown)
      .sort((a, b) => a - b)
    const found = candidates.find((at) => at >= this.#previous) ?? candidates[0]
    if (found !== undefined) this.#previous = found
    return found
  }

  #offset(at: number): number {
    const step = Math.floor(at / quarter)
    const known = this.#offsets.get(step)
    if (known !== undefined) return known
    const offset = tzOffset(this.#zone, new Date(at)) * 60_000
    this.#offsets.set(step, offset)
    return offset
  }
}
