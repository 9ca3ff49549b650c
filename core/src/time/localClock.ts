import { tzOffset } from '@date-fns/tz/tzOffset'

/** Time zones change their offset at whole quarters of an hour. */
const quarter = 900_000
const day = 86_400_000

/** In which order the rows of a file stand. */
export type RowOrder = 'oldest-first' | 'newest-first'

/**
 * Reads what a clock on a wall showed, row after row, as instants. An hour that came twice, when summer time ended, is told
 * apart by the order of the rows: the second time begins where the clock stepped back, or where it shows the same again in a
 * series that does not do so otherwise, as one that is hourly.
 */
export class LocalClock {
  readonly #zone: string
  readonly #isNewestFirst: boolean
  readonly #offsets = new Map<number, number>()
  #previous: number | undefined
  #shownBefore: number | undefined
  /** Whether rows share their time as a rule, as where each sensor has a row of its own. */
  #repeats = false

  /** @param zone IANA name, or a fixed offset such as `+01:00` where the clock stays on winter time */
  constructor(zone: string, order: RowOrder = 'oldest-first') {
    this.#zone = zone
    this.#isNewestFirst = order === 'newest-first'
  }

  /**
   * @param shown what the clock showed, as epoch ms it would be in UTC
   * @returns epoch ms; undefined for an hour that never was, when summer time began
   */
  instant(shown: number): number | undefined {
    const candidates = [...new Set([this.#offset(shown - day), this.#offset(shown + day)])]
      .map((offset) => shown - offset)
      .filter((at) => at + this.#offset(at) === shown)
      .sort((a, b) => (this.#isNewestFirst ? b - a : a - b))
    const isSame = shown === this.#shownBefore
    if (isSame && candidates.length === 1) this.#repeats = true
    const found = candidates.find((at) => this.#comesNext(at, isSame)) ?? candidates.at(isSame ? -1 : 0)
    if (found !== undefined) this.#previous = found
    this.#shownBefore = shown
    return found
  }

  #comesNext(at: number, isSame: boolean): boolean {
    if (this.#previous === undefined) return true
    if (at === this.#previous) return isSame && this.#repeats
    return this.#isNewestFirst ? at < this.#previous : at > this.#previous
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
