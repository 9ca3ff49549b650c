import type { NewSignalDefinition, SignalSettings } from '@jaunty-sparrow/contract'
import { alarmsProblem } from '@jaunty-sparrow/core/alarm'
import { definitionProblem, usualSettings } from '@jaunty-sparrow/core/signal'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { descriptionVersion, type signalDefinition } from '../store/schema.ts'
import { readUnit } from '../units/readUnit.ts'
import type { ReadDerivation } from './derivations.ts'

type Transaction = Pick<Database, 'insert'>
type Row = typeof signalDefinition.$inferSelect

/** What is written of a signal: what it is, and what its kit says of it. */
export type Description = Pick<Row, 'name' | 'field' | 'kind' | 'origin' | 'choices' | 'settings'>

/**
 * A new signal as it is written.
 * @param read what it follows from, where it is derived
 * @throws ProblemError when it contradicts itself
 */
export function describedBy(
  {
    name,
    field,
    kind,
    origin = 'measured',
    choices = [],
    derivation: _stated,
    ...given
  }: NewSignalDefinition,
  read?: ReadDerivation,
): Description {
  if (read && field !== '' && field !== read.field)
    throw new ProblemError('invalid', 'A derived signal is read from no field: leave it empty.')
  const settings = { ...given, ...(read && { derivation: read.derivation }) }
  const description = { name, field: read?.field ?? field, kind, origin, choices, settings }
  checkUnit(settings.unit)
  check(description)
  return description
}

/** @throws ProblemError when a description contradicts itself */
export function check({ settings, ...rest }: Description, own: Partial<SignalSettings> = {}): void {
  const described = { ...usualSettings, ...settings, ...own, ...rest }
  const problem = definitionProblem(described) ?? alarmsProblem(described.alarms, described)
  if (problem) throw new ProblemError('invalid', problem)
}

/** @throws ProblemError when it is no unit of UCUM */
export function checkUnit(unit: string | null | undefined): void {
  if (unit) readUnit(unit)
}

/** Remembers what was said of a signal, so that an old value can be explained by what held then. */
export async function rememberVersion(
  tx: Transaction,
  { id: definitionId, name, field, kind, origin, choices, settings }: Row,
  said: { readonly at: number; readonly personId: number },
): Promise<void> {
  const described = { name, field, kind, origin, choices, settings }
  await tx.insert(descriptionVersion).values({ definitionId, described, ...stamp(said) })
}

/** Remembers what a device has its own of. */
export async function rememberOwn(
  tx: Transaction,
  { definitionId, id: signalId }: { readonly definitionId: number; readonly id: number },
  own: Partial<SignalSettings>,
  said: { readonly at: number; readonly personId: number },
): Promise<void> {
  await tx.insert(descriptionVersion).values({ definitionId, signalId, described: own, ...stamp(said) })
}

const stamp = ({ at, personId }: { readonly at: number; readonly personId: number }) => ({
  validFrom: new Date(at),
  personId,
})
