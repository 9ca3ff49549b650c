import type { InputHistory } from '@jaunty-sparrow/core/rule'
import type pg from 'pg'
import { allReadings } from '../derived/allReadings.ts'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { RuleInputs } from './ruleInputs.ts'

/** What was said so long before a span, ms, may still hold when it begins. */
const lookBack = 7 * 86_400_000
/** So many readings are judged for one trial; more would keep others waiting. */
const mostReadings = 1_000_000
/** The longest span that is tried, ms. */
export const longestTrial = 92 * 86_400_000
/** A device may have spoken more rarely then than it does now: so many of its turns then may be missed. */
const turns = 3

/** Reads what signals said over a span that something is tried on, epoch ms. */
export async function pastOf(
  { pool, inputs }: { readonly pool: pg.Pool; readonly inputs: RuleInputs },
  signals: readonly number[],
  from: number,
  to: number,
): Promise<Map<number, InputHistory>> {
  const asked = signals.map((signal) => ({ signal, after: from - 1, oldest: from - lookBack, from, to }))
  const read = await allReadings(pool, asked, mostReadings)
  if (!read)
    throw new ProblemError(
      'invalid',
      `There are more than ${mostReadings.toLocaleString('en')} readings in this span: try a shorter one.`,
    )
  return new Map(
    signals.map((signal, place) => [
      signal,
      {
        signal,
        readings: (read[place] ?? []).map((row) => ({
          at: row.at,
          value: inputs.valueOf({ ...row, signal }),
        })),
      },
    ]),
  )
}

/** How long a reading counted then, ms; null for as long as one likes. */
export function countsThen(
  { registry, inputs }: { readonly registry: DeviceRegistry; readonly inputs: RuleInputs },
  signal: number,
  readings: InputHistory['readings'],
): number | null {
  const now = inputs.countsFor(signal)
  // What is stored only when it changes says nothing of when it was heard.
  const isTold = now !== null && registry.signal(signal)?.signal.definition.storing.by === 'every'
  return isTold ? Math.max(now, turns * usualGap(readings)) : null
}

/** How far apart readings are, the half of them closer, ms. */
function usualGap(readings: InputHistory['readings']): number {
  const gaps = Float64Array.from(readings.slice(1), ({ at }, place) => at - (readings[place]?.at ?? at))
  return gaps.sort()[gaps.length >> 1] ?? 0
}
