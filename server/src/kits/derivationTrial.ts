import { type DerivationTrial, routes } from '@jaunty-sparrow/contract'
import { derive, type FoundDerivation, type FoundInput, inputsAt } from '@jaunty-sparrow/core/derived'
import { type Derivation, derivationProblem } from '@jaunty-sparrow/core/signal'
import { eq } from 'drizzle-orm'
import max from 'lodash-es/max.js'
import { inputReadings } from '../derived/correctedReadings.ts'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { site } from '../store/schema.ts'
import { readDerivation } from './derivations.ts'

const hour = 3_600_000
/** So many points of it are told, the last. */
const mostPoints = 400

interface DerivationTrialParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly latest: { of(signal: number): { readonly at: number } | undefined }
}

/** Shows what would follow from signals, before it holds. */
export function bindDerivationTrial({ binder, database, registry, latest }: DerivationTrialParts): void {
  binder.bind(
    routes.tryDerivation,
    async ({ params, body: { derivation }, caller }): Promise<DerivationTrial> => {
      const device = registry.get(params.address)
      if (!device) throw new ProblemError('not-found', `There is no device "${params.address}".`)
      const problem = derivationProblem(derivation)
      if (problem !== undefined) return { problem, inputs: [], points: [] }
      await readDerivation(database, registry, caller, device.kitId, derivation)
      const [there] = await database
        .select({ timeZone: site.timeZone })
        .from(site)
        .where(eq(site.id, device.siteId))
      if (!there) throw new ProblemError('not-found', 'The site of the device was deleted meanwhile.')
      const found = findInputs(device, derivation, there.timeZone)
      const to = max(found.inputs.map(({ signal }) => latest.of(signal)?.at)) ?? 0
      const from = to - hour
      const rows = await inputReadings(database.$client, found.inputs, from, to)
      const now = inputsAt(found, rows, to)
      return {
        problem: null,
        inputs: derivation.inputs.map(({ name }) => ({ name, value: now.get(name) ?? null })),
        points: derive(found, rows, from, to)
          .slice(-mostPoints)
          .map(({ at, value }) => [at, value]),
      }
    },
  )
}

/** The signals of the device itself; of like parts the first stands for all. */
function findInputs(
  { signals }: RegisteredDevice,
  { formula, inputs }: Derivation,
  zone: string,
): FoundDerivation {
  const own = [...signals]
  return {
    formula,
    inputs: inputs.flatMap(({ of, ...rest }): FoundInput[] => {
      const signal =
        'signal' in of ? of.signal : own.find(({ definition }) => definition.id === of.definition)?.signal
      return signal === undefined ? [] : [{ ...rest, signal }]
    }),
    constants: signals.constants,
    isSwitch: false,
    range: { low: null, high: null },
    zone,
  }
}
