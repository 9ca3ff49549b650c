import { Quality, type QualityBits, type Reading } from '../signal/reading.ts'
import { type SignalValue, sameValue } from '../signal/value.ts'

/** A reading's value as it is stored. */
export interface StoredValue {
  readonly value: SignalValue
  readonly raw?: number
  readonly quality: QualityBits
}

/** What was known when a reading came in and cannot be found out again: who doubted its clock, and what a person said of it. */
const lasting = Quality.clockDoubted | Quality.markedBad

/** What running messages through again does to one reading; null where there is none. */
export interface RereadChange {
  readonly signal: number
  readonly at: number
  readonly receivedAt: number
  readonly before: StoredValue | null
  readonly after: StoredValue | null
}

const keyOf = ({ signal, at }: Pick<Reading, 'signal' | 'at'>): string => `${signal} ${at}`

/**
 * Compares what messages are understood to say now with what was stored of them. A reading belongs to the message that came
 * in when it did; one that came in with another message stays as it is.
 * @param expected what the messages say now, in the order they came in
 * @param stored what is stored at the instants of the messages, of all signals they could have written to
 * @param receivedAt when the messages came in
 */
export function rereadChanges(
  expected: readonly Reading[],
  stored: readonly Reading[],
  receivedAt: ReadonlySet<number>,
): RereadChange[] {
  const there = new Map(stored.map((reading) => [keyOf(reading), reading]))
  const wanted = new Map<string, Reading>()
  // The first reading of an instant is the one that stays, as when they came in.
  for (const reading of expected) {
    const key = keyOf(reading)
    if (!wanted.has(key)) wanted.set(key, reading)
  }
  const changes: RereadChange[] = []
  for (const [key, reading] of wanted) {
    const { signal, at, receivedAt: cameIn } = reading
    const before = there.get(key)
    if (before && before.receivedAt !== cameIn) continue
    const after = storedOf({ ...reading, quality: qualityNow(reading, before) })
    if (before && isSame(storedOf(before), after)) continue
    changes.push({ signal, at, receivedAt: cameIn, before: before ? storedOf(before) : null, after })
  }
  for (const [key, reading] of there) {
    const { signal, at, receivedAt: cameIn } = reading
    if (wanted.has(key) || !receivedAt.has(cameIn)) continue
    changes.push({ signal, at, receivedAt: cameIn, before: storedOf(reading), after: null })
  }
  return changes
}

function qualityNow({ value, quality }: Reading, before: Reading | undefined): QualityBits {
  if (!before) return quality
  const kept = quality | (before.quality & lasting)
  // How fast it changed was told beside what was stored before it then.
  return sameValue(value, before.value)
    ? (kept & ~Quality.tooFast) | (before.quality & Quality.tooFast)
    : kept
}

const storedOf = ({ value, raw, quality }: Reading): StoredValue =>
  raw === undefined ? { value, quality } : { value, raw, quality }

const isSame = (one: StoredValue, other: StoredValue): boolean =>
  sameValue(one.value, other.value) && one.raw === other.raw && one.quality === other.quality
