import { routes } from '@jaunty-sparrow/contract'
import { calibrationAt } from '@jaunty-sparrow/core/calibration'
import type { SignalSettings } from '@jaunty-sparrow/core/signal'
import { convertedTo } from '@jaunty-sparrow/core/units'
import { and, eq, isNull } from 'drizzle-orm'
import omit from 'lodash-es/omit.js'
import { dueFrom, linkDerived } from '../derived/linkDerived.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Faults } from '../life/faults.ts'
import type { LargeChanges } from '../readings/largeChanges.ts'
import { hashToken, newToken } from '../secrets/token.ts'
import type { Database } from '../store/database.ts'
import { calibration, device, kit, signal } from '../store/schema.ts'
import type { ConvertReadings } from './convertReadings.ts'
import { type CarriedOn, findExchange, toldExchange } from './kitExchange.ts'
import { knownDevice } from './knownDevice.ts'
import { makeSignals } from './makeSignals.ts'
import { maySeeKit } from './maySeeKit.ts'
import type { DeviceParts } from './routes.ts'

export interface ServiceParts extends DeviceParts {
  readonly large: LargeChanges
  readonly faults: Faults
  /** Reads anew what is the latest of all signals, here and on other servers. */
  readonly reread: () => Promise<void>
}

/** Settings that are told in the unit of the signal. */
const inItsUnit: readonly (keyof SignalSettings)[] = [
  'unit',
  'range',
  'shown',
  'bands',
  'limits',
  'alarms',
  'storing',
  'conversion',
  'greatestRate',
]

/** What happens to a board in its life: it is moved to another project, or another one takes its place. */
export function bindService(parts: ServiceParts): void {
  const { binder, database, registry, hub, events, large, faults, reread, now } = parts

  const kitSeenBy = async (access: Parameters<typeof maySeeKit>[0], kitId: number) => {
    const [there] = await database.select({ id: kit.id, name: kit.name }).from(kit).where(eq(kit.id, kitId))
    if (!there || !maySeeKit(access, registry, kitId))
      throw new ProblemError('not-found', 'There is no such kit.')
    return there
  }

  binder.bind(routes.previewKitExchange, async ({ params: { address, kitId }, caller }) => {
    await kitSeenBy(caller.access, kitId)
    return toldExchange(await findExchange(database, knownDevice(registry, address).id, kitId))
  })

  binder.bind(routes.exchangeKit, async ({ params: { address, kitId }, caller }) => {
    const { name } = await kitSeenBy(caller.access, kitId)
    const known = knownDevice(registry, address)
    if (known.kitId === kitId) throw new ProblemError('conflict', 'It is of this kit already.')
    const { exchange, toConvert } = await database.transaction(async (tx) => {
      const exchange = await findExchange(tx, known.id, kitId)
      const toConvert: number[] = []
      for (const each of exchange.carriedOn) {
        await carryOn(tx, each)
        if (!each.conversion) continue
        toConvert.push(
          await large.takeDown(tx, {
            kind: 'convert',
            signal: each.signalId,
            conversion: each.conversion,
            receivedBefore: now(),
          } satisfies ConvertReadings),
        )
      }
      await tx.update(device).set({ kitId }).where(eq(device.id, known.id))
      await makeSignals(tx, kitId)
      await linkDerived(tx, [known.kitId])
      return { exchange, toConvert }
    })
    await registry.load(kitId)
    for (const change of toConvert)
      faults.watch('telling readings in another unit', large.run(change).then(reread))
    hub.deviceChanged(address)
    const told = toldExchange(exchange)
    await events.write({
      kind: 'device',
      at: now(),
      deviceId: known.id,
      caller,
      says: `It was given the kit "${name ?? 'without a name'}".`,
      change: {
        before: {},
        after: { carriedOn: told.carriedOn.map((each) => each.name), former: told.former },
      },
    })
    return told
  })

  binder.bind(routes.replaceHardware, async ({ params: { address }, body: { endCalibrations }, caller }) => {
    const known = knownDevice(registry, address)
    const secret = newToken()
    const at = now()
    await database.transaction(async (tx) => {
      await tx
        .update(device)
        .set({ secretHash: hashToken(secret), formerSecretHash: null, formerSecretUntil: null })
        .where(eq(device.id, known.id))
      await tx.update(signal).set({ doubt: null }).where(eq(signal.deviceId, known.id))
      if (!endCalibrations) return
      for (const { signal: signalId } of known.signals) {
        const holds = calibrationAt(registry.calibrations.of(signalId), at)
        if (!holds || (holds.gain === 1 && holds.offset === 0)) continue
        await tx.insert(calibration).values({
          ...{ signalId, gain: 1, offset: 0, validFrom: new Date(at), personId: caller.person.id },
          evidence: 'the hardware was replaced',
        })
        await dueFrom(tx, signalId, at)
      }
    })
    await registry.load(known.kitId)
    hub.deviceChanged(address)
    const says = endCalibrations
      ? 'Its hardware was replaced, and its corrections ended.'
      : 'Its hardware was replaced.'
    await events.write({ kind: 'device', at, deviceId: known.id, caller, says })
    return { secret }
  })
}

/** Lets a signal go on under another definition; what was told in another unit is told in the new one. */
async function carryOn(
  tx: Pick<Database, 'select' | 'update'>,
  { signalId, to, conversion }: CarriedOn,
): Promise<void> {
  await tx.update(signal).set({ definitionId: to.id }).where(eq(signal.id, signalId))
  if (!conversion) return
  const [row] = await tx.select({ own: signal.own }).from(signal).where(eq(signal.id, signalId))
  await tx
    .update(signal)
    .set({ own: omit(row?.own ?? {}, inItsUnit) })
    .where(eq(signal.id, signalId))
  const corrections = await tx
    .select()
    .from(calibration)
    .where(and(eq(calibration.signalId, signalId), isNull(calibration.takenBackAt)))
  const zero = convertedTo(0, conversion)
  // true = gain × stored + offset, each side told in the other unit.
  for (const { id, gain, offset } of corrections)
    await tx
      .update(calibration)
      .set({ offset: convertedTo(offset, conversion) - gain * zero })
      .where(eq(calibration.id, id))
}
