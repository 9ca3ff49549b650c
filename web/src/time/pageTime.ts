import type { LatestReading, Signal } from '@jaunty-sparrow/contract'

/** Which time a page shows, and what was known of its signals then. */
export interface PageTime {
  /** Epoch ms; undefined for now. */
  readonly moment: number | undefined
  /** What a signal said last, up to that moment. */
  readonly latest: (signal: number) => LatestReading | null
  /** A signal with the limits it had then. */
  readonly asThen: (signal: Signal) => Signal
}

export const liveTime: PageTime = { moment: undefined, latest: () => null, asThen: (signal) => signal }
