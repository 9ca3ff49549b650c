import type { Signal } from '@jaunty-sparrow/contract'
import { guessGroups, guessUnits } from '@jaunty-sparrow/core/proposal'

/** What a suggested signal is proposed to be; it is a guess until somebody accepts it. */
export interface Proposal {
  readonly unit?: string
  readonly group?: string
}

/** What is proposed for the suggested signals of a device, by their fields and what they said last. */
export function proposals(
  signals: readonly Signal[],
  latest: (signal: Signal) => Signal['latest'] | undefined,
): ReadonlyMap<number, Proposal> {
  const numbers = signals.flatMap((signal) => {
    const value = latest(signal)?.value
    return signal.kind === 'number' && typeof value === 'number' ? [{ pointer: signal.field, value }] : []
  })
  const units = guessUnits(numbers)
  const groups = guessGroups(numbers.map(({ pointer }) => pointer))
  return new Map(
    signals.map((signal) => {
      const unit = signal.unit === null && signal.kind === 'number' ? units.get(signal.field) : undefined
      const group = signal.group === null ? groups.get(signal.field) : undefined
      return [signal.id, { ...(unit !== undefined && { unit }), ...(group !== undefined && { group }) }]
    }),
  )
}
