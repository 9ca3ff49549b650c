import { decimate, type TracePoint } from '@jaunty-sparrow/core/chart'
import { columnWidth, levelFor } from '@jaunty-sparrow/core/rollup'
import { isVoid } from '@jaunty-sparrow/core/signal'
import type { AskedSignal, HistoryReader, Span } from '../rollups/historyReader.ts'

export interface SignalTrace {
  readonly signal: number
  readonly points: readonly TracePoint[]
  /** How wide the columns are that it was thinned to, ms. */
  readonly width: number
  /** The last point before the span and the first after it, which its picture needs at both ends. */
  readonly before: TracePoint | null
  readonly after: TracePoint | null
}

/** Reads what signals look like on so many columns: from the buckets that fit those, and from readings where none do. */
export class TraceReader {
  readonly #history: HistoryReader

  constructor(history: HistoryReader) {
    this.#history = history
  }

  /** Of each column at most four points: the first, lowest, highest and last of what counts, corrected. */
  async read(asked: readonly AskedSignal[], { from, to }: Span, columns: number): Promise<SignalTrace[]> {
    const width = columnWidth(to - from, columns)
    const level = levelFor(width)
    // Columns lie on multiples of their width, whatever is looked at: what moves into sight is drawn as it was.
    const span = { from: Math.floor(from / width) * width, to: Math.ceil(to / width) * width }
    // What is no number, nor a code of one, has no course that could be drawn.
    const drawn = asked.filter(({ kind }) => kind !== 'position' && kind !== 'text')
    const [points, { before, after }] = await Promise.all([
      level === undefined ? this.#readings(drawn, span) : this.#history.outlines(drawn, span, level),
      this.#history.beside(drawn, span),
    ])
    const point = (reading: { at: number; value: number } | undefined): TracePoint | null =>
      reading ? [reading.at, reading.value] : null
    return asked.map(({ signal }) => {
      const own = points.get(signal) ?? []
      return {
        signal,
        // Few enough are told one by one.
        points: own.length <= 4 * columns ? own : decimate(own, 0, width),
        width,
        before: point(before.get(signal)),
        after: point(after.get(signal)),
      }
    })
  }

  async #readings(asked: readonly AskedSignal[], span: Span): Promise<Map<number, TracePoint[]>> {
    const found = await this.#history.readings(asked, span)
    return new Map(
      Array.from(found, ([signal, readings]) => [
        signal,
        readings.flatMap(({ at, value, quality }): TracePoint[] => (isVoid(quality) ? [] : [[at, value]])),
      ]),
    )
  }
}
