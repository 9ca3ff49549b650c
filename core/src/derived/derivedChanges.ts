import type { RereadChange } from '../rereading/index.ts'
import { Quality } from '../signal/index.ts'
import type { NumberReading } from './derive.ts'

/** What a person said of a reading stays with its instant. */
const lasting = Quality.markedBad

/**
 * What has to change for a derived signal to be what it comes to.
 * @param signal its number
 * @param wanted,stored what it comes to and what is stored, of the same span, in order
 */
export function derivedChanges(
  signal: number,
  wanted: readonly NumberReading[],
  stored: readonly NumberReading[],
): RereadChange[] {
  const there = new Map(stored.map((reading) => [reading.at, reading]))
  const changes: RereadChange[] = []
  for (const { at, receivedAt, value, quality: judged } of wanted) {
    const before = there.get(at)
    there.delete(at)
    const quality = judged | ((before?.quality ?? 0) & lasting)
    if (before?.value === value && before.quality === quality) continue
    changes.push({
      signal,
      at,
      receivedAt,
      before: before ? { value: before.value, quality: before.quality } : null,
      after: { value, quality },
    })
  }
  for (const { at, receivedAt, value, quality } of there.values())
    changes.push({ signal, at, receivedAt, before: { value, quality }, after: null })
  return changes
}
