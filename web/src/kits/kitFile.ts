import type { BodyOf, Kit, routes } from '@jaunty-sparrow/contract'

/** A kit as it travels: what makes one, without the numbers it has here. */
export const kitFile = ({
  name,
  cadence,
  constants,
  notes,
  wiring,
  signals,
}: Kit): BodyOf<typeof routes.createKit> => ({
  name: name ?? 'Without a name',
  cadence,
  constants,
  notes,
  wiring,
  signals: signals
    .filter(({ state }) => state === 'accepted')
    .map(({ id: _, state: __, ...signal }) => signal),
})
