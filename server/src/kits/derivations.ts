import type { StatedDerivation } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { compileFormula } from '@jaunty-sparrow/core/formula'
import {
  countedKinds,
  type Derivation,
  fieldOfDerivedParts,
  hasParts,
  type SignalKind,
  type SignalReference,
} from '@jaunty-sparrow/core/signal'
import { eq } from 'drizzle-orm'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import type { Database } from '../store/database.ts'
import { device, kit, signalDefinition } from '../store/schema.ts'

/** A derivation whose inputs are known, and what stands for the field of a signal that is derived so. */
export interface ReadDerivation {
  readonly derivation: Derivation
  readonly field: string
}

/**
 * Reads how a signal of a kit is to follow from others.
 * @throws ProblemError when it names what is not there, what the caller may not see, or what is no number
 */
export async function readDerivation(
  tx: Pick<Database, 'select'>,
  registry: Pick<DeviceRegistry, 'get' | 'signal'>,
  { access }: Pick<Caller, 'access'>,
  kitId: number,
  stated: StatedDerivation,
): Promise<ReadDerivation> {
  const siblings = await tx.select().from(signalDefinition).where(eq(signalDefinition.kitId, kitId))
  const sibling = (of: { readonly named: string } | { readonly definition: number }) => {
    const found = siblings.filter(({ id, name, state }) =>
      'named' in of ? name === of.named && state === 'accepted' : id === of.definition,
    )
    const told = 'named' in of ? `called "${of.named}"` : `of number ${of.definition}`
    if (found.length > 1)
      throw invalid(`Several signals of the kit are ${told}; give them names of their own.`)
    if (!found[0]) throw invalid(`There is no signal ${told} in the kit.`)
    return found[0]
  }
  let isOfParts = false
  const inputs = stated.inputs.map(({ of, ...rest }) => {
    if ('signal' in of) {
      const known = registry.signal(of.signal)
      const site = known && registry.get(known.address)?.siteId
      if (site === undefined || !mayAt(access, 'viewer', site))
        throw invalid(`There is no signal of number ${of.signal}.`)
      demandCounted(known?.signal.definition)
      return { ...rest, of }
    }
    const found = sibling(of)
    demandCounted(found)
    isOfParts ||= hasParts(found.field)
    return { ...rest, of: { definition: found.id } satisfies SignalReference }
  })
  await checkNames(tx, kitId, stated)
  return { derivation: { formula: stated.formula, inputs }, field: isOfParts ? fieldOfDerivedParts : '' }
}

function demandCounted(definition: { readonly name: string; readonly kind: SignalKind } | undefined): void {
  if (definition && !countedKinds.includes(definition.kind))
    throw invalid(`"${definition.name}" is no number, so nothing can be worked out from it.`)
}

/** @throws ProblemError when the formula names what is neither an input nor a constant of the kit or of one of its devices */
async function checkNames(
  tx: Pick<Database, 'select'>,
  kitId: number,
  { formula, inputs }: StatedDerivation,
): Promise<void> {
  const read = compileFormula(formula)
  if ('problem' in read) return
  const own = await tx.select({ constants: device.constants }).from(device).where(eq(device.kitId, kitId))
  const ofKit = await tx.select({ constants: kit.constants }).from(kit).where(eq(kit.id, kitId))
  const known = new Set([
    ...inputs.map(({ name }) => name),
    ...[...own, ...ofKit].flatMap(({ constants }) => Object.keys(constants)),
  ])
  const unknown = read.constants.find((name) => !known.has(name))
  if (unknown !== undefined)
    throw invalid(
      `In the formula, "${unknown}" is neither one of the signals it follows from nor a constant.`,
    )
}

const invalid = (problem: string): ProblemError => new ProblemError('invalid', problem)
