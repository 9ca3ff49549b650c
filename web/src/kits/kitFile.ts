import type { BodyOf, Kit, routes, StatedDerivation } from '@jaunty-sparrow/contract'

/** A kit as it travels: what makes one, without the numbers it has here. What follows from signals of certain devices stays here. */
export const kitFile = ({
  name,
  cadence,
  constants,
  notes,
  wiring,
  picture,
  signals,
}: Kit): BodyOf<typeof routes.createKit> => ({
  name: name ?? 'Without a name',
  cadence,
  constants,
  notes,
  wiring,
  ...(picture && { picture }),
  signals: signals
    .filter(({ state }) => state === 'accepted')
    .flatMap(({ id: _, state: __, derivation, ...signal }) => {
      const travels = derivation && byName(derivation, signals)
      return derivation && !travels ? [] : [{ ...signal, ...(travels && { derivation: travels }) }]
    }),
})

/** A derivation by the names of what it follows from; undefined where that is not all of the kit. */
function byName(
  { formula, inputs }: NonNullable<Kit['signals'][number]['derivation']>,
  signals: Kit['signals'],
): StatedDerivation | undefined {
  const named = inputs.flatMap(({ of, ...rest }) => {
    const found = 'definition' in of ? signals.find(({ id }) => id === of.definition) : undefined
    return found ? [{ ...rest, of: { named: found.name } }] : []
  })
  return named.length === inputs.length ? { formula, inputs: named } : undefined
}
