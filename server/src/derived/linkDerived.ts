import type { FoundDerivation, FoundInput } from '@jaunty-sparrow/core/derived'
import { reachOf, usualSettings } from '@jaunty-sparrow/core/signal'
import { and, eq, inArray, sql } from 'drizzle-orm'
import chunk from 'lodash-es/chunk.js'
import groupBy from 'lodash-es/groupBy.js'
import isEqual from 'lodash-es/isEqual.js'
import type { Database } from '../store/database.ts'
import {
  derived,
  derivedInput,
  device,
  dueDerived,
  kit,
  signal,
  signalDefinition,
  site,
} from '../store/schema.ts'
import { refuseCycle } from './refuseCycle.ts'

type Transaction = Pick<Database, 'select' | 'insert' | 'delete' | 'update' | 'execute'>

/** Long before the first reading there can be, and long after the last, epoch ms. */
const everFrom = Date.UTC(1900, 0, 1)
const everTo = Date.UTC(9999, 11, 31)

/** A statement takes 65,535 values at most; each of so many signals may follow from eight others. */
const atOnce = 1000

/**
 * Finds, for each derived signal of the devices of some kits, which signals it follows from and what else holds for it. Where that
 * is other than it was, all of its past is due.
 * @throws ProblemError when one would follow from itself
 */
export async function linkDerived(tx: Transaction, kitIds: readonly number[]): Promise<void> {
  const wanted = await findDerived(tx, kitIds)
  const there = await tx
    .select({
      signalId: derived.signalId,
      found: derived.found,
      isHeld: sql<boolean>`${signalDefinition.state} = 'accepted' and ${signalDefinition.kitId} = ${device.kitId}`,
    })
    .from(derived)
    .innerJoin(signal, eq(signal.id, derived.signalId))
    .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
    .innerJoin(device, eq(device.id, signal.deviceId))
    .where(inArray(signalDefinition.kitId, [...kitIds]))
  const known = new Map(there.map((row) => [row.signalId, row.found]))
  const left = there.filter(({ isHeld }) => !isHeld)
  const changed = wanted.filter(({ signalId, found }) => !isEqual(known.get(signalId), found))
  const cleared = [...left, ...changed].map(({ signalId }) => signalId)
  for (const ids of chunk(cleared, atOnce)) await tx.delete(derived).where(inArray(derived.signalId, ids))
  for (const some of chunk(changed, atOnce)) {
    await tx.insert(derived).values(some)
    await tx.insert(derivedInput).values(some.flatMap(inputsOf))
    await tx
      .insert(dueDerived)
      .values(some.map(({ signalId }) => ({ signalId, fromAt: everFrom, toAt: everTo, isPast: true })))
  }
  if (changed.length > 0) await refuseCycle(tx)
}

/** Says that all that follows from a signal is due from an instant on: it is corrected otherwise. @param from epoch ms */
export async function dueFrom(tx: Transaction, signalId: number, from: number): Promise<void> {
  const following = await tx
    .select({ signalId: derivedInput.signalId })
    .from(derivedInput)
    .where(eq(derivedInput.inputId, signalId))
  if (following.length > 0)
    await tx
      .insert(dueDerived)
      .values(following.map((row) => ({ ...row, fromAt: from, toAt: everTo, isPast: true })))
}

interface Linked {
  readonly signalId: number
  readonly found: FoundDerivation
}

/** One signal may be taken in two ways: what matters of it longest counts. */
function inputsOf({ signalId, found }: Linked) {
  const bySignal = groupBy(found.inputs, (input) => input.signal)
  return Object.values(bySignal).flatMap((same) => {
    const reach = Math.max(...same.map(reachOf))
    return same.slice(0, 1).map((input) => ({ signalId, inputId: input.signal, reach }))
  })
}

async function findDerived(tx: Transaction, kitIds: readonly number[]): Promise<Linked[]> {
  const rows = await tx
    .select({
      signal,
      definition: signalDefinition,
      constants: device.constants,
      ofKit: kit.constants,
      zone: site.timeZone,
    })
    .from(signal)
    .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
    .innerJoin(device, eq(device.id, signal.deviceId))
    .innerJoin(kit, eq(kit.id, device.kitId))
    .innerJoin(site, eq(site.id, device.siteId))
    .where(
      and(
        inArray(signalDefinition.kitId, [...kitIds]),
        eq(signalDefinition.kitId, device.kitId),
        eq(signalDefinition.origin, 'derived'),
        eq(signalDefinition.state, 'accepted'),
      ),
    )
  if (rows.length === 0) return []
  const siblings = await tx
    .select({
      id: signal.id,
      deviceId: signal.deviceId,
      definitionId: signal.definitionId,
      part: signal.part,
    })
    .from(signal)
    .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
    .where(inArray(signalDefinition.kitId, [...kitIds]))
  const placeOf = (deviceId: number, definitionId: number, part: string) =>
    `${deviceId} ${definitionId} ${part}`
  const byPlace = new Map(siblings.map((row) => [placeOf(row.deviceId, row.definitionId, row.part), row.id]))
  return rows.flatMap(({ signal: row, definition, constants, ofKit, zone }) => {
    const settings = { ...usualSettings, ...definition.settings, ...row.own }
    const { derivation } = settings
    if (!derivation) return []
    const inputs = derivation.inputs.flatMap(({ of, ...rest }): FoundInput[] => {
      if ('signal' in of) return [{ ...rest, signal: of.signal }]
      const found =
        byPlace.get(placeOf(row.deviceId, of.definition, row.part)) ??
        byPlace.get(placeOf(row.deviceId, of.definition, ''))
      return found === undefined ? [] : [{ ...rest, signal: found }]
    })
    // What it follows from is not there, or not yet.
    if (inputs.length < derivation.inputs.length) return []
    const found: FoundDerivation = {
      formula: derivation.formula,
      inputs,
      constants: { ...ofKit, ...constants },
      isSwitch: definition.kind === 'switch',
      range: settings.range,
      zone,
    }
    return [{ signalId: row.id, found }]
  })
}
