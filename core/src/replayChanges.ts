import type { Quality, Reading } from './reading.ts'

interface Stored {
  readonly value: number
  readonly quality: Quality
}

/** What running messages through again does to one reading; null where there is none. */
export interface ReplayChange {
  readonly signal: number
  readonly at: number
  readonly receivedAt: number
  readonly before: Stored | null
  readonly after: Stored | null
}

const keyOf = ({ signal, at }: Pick<Reading, 'signal' | 'at'>): string => `${signal} ${at}`

/**
 * Compares what messages are understood to say now with what was stored of them. A reading belongs to the message that came
 * in when it did; one that came in with another message stays as it is.
 * @param expected what the messages say now, in the order they came in
 * @param stored what is stored at the instants of the messages, of all signals they could have written to
 * @param receivedAt when the messages came in
 */
export function replayChanges(
  expected: readonly Reading[],
  stored: readonly Reading[],
  receivedAt: ReadonlySet<number>,
): ReplayChange[] {
  const there = new Map(stored.map((reading) => [keyOf(reading), reading]))
  const wanted = new Map<string, Reading>()
  // The first reading of an instant is the one that stays, as when they came in.
  for (const reading of expected) {
    const key = keyOf(reading)
    if (!wanted.has(key)) wanted.set(key, reading)
  }
  const changes: ReplayChange[] = []
  for (const [key, { value, quality, ...reading }] of wanted) {
    const before = there.get(key)
    if (
      before &&
      (before.receivedAt !== reading.receivedAt || (before.value === value && before.quality === quality))
    )
      continue
    changes.push({
      ...reading,
      before: before ? { value: before.value, quality: before.quality } : null,
      after: { value, quality },
    })
  }
  for (const [key, { value, quality, ...reading }] of there) {
    if (wanted.has(key) || !receivedAt.has(reading.receivedAt)) continue
    changes.push({ ...reading, before: { value, quality }, after: null })
  }
  return changes
}
