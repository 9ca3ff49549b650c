import type { DerivedExplanation } from '@jaunty-sparrow/contract'
import { type FoundDerivation, inputsAt, takings } from '@jaunty-sparrow/core/derived'
import type { Reach } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import { inputReadings } from './correctedReadings.ts'

const reachWords = (over: Reach): string => (over === 'day' ? ' since midnight' : ` of ${over} s`)

/**
 * From what a value of a derived signal followed.
 * @param says what a signal is called, and its device
 * @returns null where it follows from nothing any more
 */
export async function explainDerived(
  pool: Pick<pg.Pool, 'query'>,
  signalId: number,
  at: number,
  says: (signal: number) => string,
): Promise<DerivedExplanation | null> {
  const { rows } = await pool.query<{ found: FoundDerivation }>(
    'select found from derived where signal_id = $1',
    [signalId],
  )
  const found = rows[0]?.found
  if (!found) return null
  const readings = await inputReadings(pool, found.inputs, at, at)
  const values = inputsAt(found, readings, at)
  return {
    formula: found.formula,
    inputs: found.inputs.map(({ name, signal, take }, place) => ({
      name,
      signal,
      says: `${says(signal)}: ${takings[take.by].says}${'over' in take ? reachWords(take.over) : ''}`,
      value: values.get(name) ?? null,
      at: readings[place]?.at(-1)?.at ?? null,
    })),
  }
}
