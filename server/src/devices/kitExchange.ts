import type { KitExchange } from '@jaunty-sparrow/contract'
import type { SignalSettings } from '@jaunty-sparrow/core/signal'
import { between, type UnitConversion } from '@jaunty-sparrow/core/units'
import { and, eq, ne } from 'drizzle-orm'
import partition from 'lodash-es/partition.js'
import type { Database } from '../store/database.ts'
import { signal, signalDefinition } from '../store/schema.ts'

type Definition = typeof signalDefinition.$inferSelect

/** A signal of a device that goes on under the definition of another kit. */
export interface CarriedOn {
  readonly signalId: number
  readonly from: Definition
  readonly to: Definition
  /** How its values are told in the unit of the other kit; null where that is the same. */
  readonly conversion: UnitConversion | null
}

/** What becomes of each signal of a device that is given another kit. */
export interface Exchange {
  readonly carriedOn: readonly CarriedOn[]
  readonly former: readonly Definition[]
  readonly fresh: readonly Definition[]
}

const unitOf = ({ settings }: Definition): string | null => (settings as Partial<SignalSettings>).unit ?? null

/** How values of one go on as those of the other; undefined where they measure something else. */
function conversionOf(from: Definition, to: Definition): UnitConversion | null | undefined {
  if (from.field !== to.field || from.kind !== to.kind || from.origin !== to.origin) return undefined
  // What follows from others follows from those of its own kit.
  if (from.origin === 'derived') return undefined
  const [one, other] = [unitOf(from), unitOf(to)]
  if (one === other || one === null || other === null) return null
  return between(one, other)
}

/** Finds what becomes of the signals of a device by another kit: same field, kind and dimension carry on. */
export async function findExchange(
  tx: Pick<Database, 'select'>,
  deviceId: number,
  kitId: number,
): Promise<Exchange> {
  const rows = await tx
    .select({ id: signal.id, definition: signalDefinition })
    .from(signal)
    .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
    .where(eq(signal.deviceId, deviceId))
    .orderBy(signal.id)
  const offered = await tx
    .select()
    .from(signalDefinition)
    .where(and(eq(signalDefinition.kitId, kitId), ne(signalDefinition.state, 'ignored')))
    .orderBy(signalDefinition.id)
  const carriedOn: CarriedOn[] = []
  const former: Definition[] = []
  /** Like parts go on together, and nothing else under a definition that one goes on under. */
  const taken = new Map<number, number>()
  // What it has of that kit from before goes on by itself.
  const [back, given] = partition(rows, ({ definition }) => definition.kitId === kitId)
  for (const { definition } of back) taken.set(definition.id, definition.id)
  for (const { id: signalId, definition: from } of given) {
    const to = offered.find(
      (each) => conversionOf(from, each) !== undefined && (taken.get(each.id) ?? from.id) === from.id,
    )
    if (!to) {
      former.push(from)
      continue
    }
    taken.set(to.id, from.id)
    carriedOn.push({ signalId, from, to, conversion: conversionOf(from, to) ?? null })
  }
  return { carriedOn, former, fresh: offered.filter(({ id }) => !taken.has(id)) }
}

const namesOf = (definitions: readonly Definition[]): string[] => [
  ...new Set(definitions.map(({ name }) => name)),
]

/** The same in words, each name once. */
export const toldExchange = ({ carriedOn, former, fresh }: Exchange): KitExchange => ({
  carriedOn: [...new Map(carriedOn.map((each) => [each.from.id, each])).values()].map(
    ({ from, to, conversion }) => ({ name: from.name, becomes: to.name, isConverted: conversion !== null }),
  ),
  former: namesOf(former.filter(({ state }) => state !== 'ignored')),
  fresh: namesOf(fresh),
})
