import { routes, type SignalSettings } from '@jaunty-sparrow/contract'
import { and, asc, desc, eq, isNull, or } from 'drizzle-orm'
import omit from 'lodash-es/omit.js'
import { dueFrom, linkDerived } from '../derived/linkDerived.ts'
import { changeOf } from '../events/changeOf.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import type { Move, ReadingChanges } from '../readings/readingChanges.ts'
import { calibration, descriptionVersion, person, signal, signalDefinition } from '../store/schema.ts'
import { readDerivation } from './derivations.ts'
import { check, checkUnit, rememberOwn, rememberVersion } from './descriptions.ts'
import { remapField } from './remapField.ts'
import type { KitParts } from './routes.ts'

export interface SignalParts extends KitParts {
  readonly changes: ReadingChanges
  /** Reads anew what is the latest of all signals, here and on other servers: it may have been moved. */
  readonly reread: () => Promise<void>
}

/** What is said of signals: by their kits, and by devices of their own. */
export function bindSignals(parts: SignalParts): void {
  const { binder, database, registry, hub, events, changes, reread, now } = parts

  binder.bind(routes.changeSignalDefinition, async ({ params, body, caller }) => {
    const { field, state, name, kind, choices, ...settings } = body
    const personId = caller.person.id
    const { before, row, carryOut } = await database.transaction(async (tx) => {
      const [own] = await tx
        .select()
        .from(signalDefinition)
        .where(eq(signalDefinition.id, params.definitionId))
        .for('update')
      if (!own) throw new ProblemError('not-found', 'There is no such signal.')
      const next = {
        ...own,
        ...(state && { state }),
        ...(name !== undefined && { name }),
        ...(kind && { kind }),
        ...(choices && { choices }),
        settings: { ...own.settings, ...(settings as Partial<SignalSettings>) },
      }
      if (kind && kind !== own.kind && own.state === 'accepted')
        throw new ProblemError(
          'conflict',
          'What a signal is stays; add another one that reads the same field.',
        )
      if (settings.unit !== own.settings.unit) checkUnit(settings.unit)
      if (settings.derivation) {
        const read = await readDerivation(tx, registry, caller, own.kitId, settings.derivation)
        if (read.field !== own.field)
          throw new ProblemError(
            'conflict',
            'Whether there is one for each of like parts stays; add another signal.',
          )
      }
      check({ ...next, field: field ?? own.field })
      const moves: Move[] = field === undefined || field === own.field ? [] : await remapField(tx, own, field)
      const { id, kitId: _kit, createdAt: _made, field: _field, ...set } = next
      const [written] = await tx
        .update(signalDefinition)
        .set(set)
        .where(eq(signalDefinition.id, id))
        .returning()
      if (!written) throw new Error('the signal was not returned by the update')
      await rememberVersion(tx, written, { at: now(), personId })
      if (written.origin === 'derived') await linkDerived(tx, [written.kitId])
      const carryOut = moves.length > 0 ? await changes.move(tx, moves) : undefined
      return { before: own, row: written, carryOut }
    })
    await registry.load(row.kitId)
    if (carryOut) await carryOut()
    if (field !== undefined) await reread()
    hub.kitChanged(row.kitId)
    const says = `What the signal "${row.name}" is was changed.`
    const flat = ({ settings: said, ...rest }: typeof row) => ({ ...rest, ...said })
    const change = changeOf(flat(before), flat(row), Object.keys(body))
    await events.write({ kind: 'signal', at: now(), kitId: row.kitId, caller, says, change })
  })

  binder.bind(routes.changeOwnSettings, async ({ params: { signalId }, body, caller }) => {
    const { set = {}, takeBack = [] } = body
    const personId = caller.person.id
    const { kitId, deviceId, name, before, after } = await database.transaction(async (tx) => {
      const [found] = await tx
        .select({ signal, definition: signalDefinition })
        .from(signal)
        .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
        .where(eq(signal.id, signalId))
        .for('update', { of: signal })
      if (!found) throw noSignal()
      const own = omit({ ...found.signal.own, ...set }, takeBack) as Partial<SignalSettings>
      checkUnit(set.unit)
      const { kitId: ofKit, field } = found.definition
      if (set.derivation) {
        const read = await readDerivation(tx, registry, caller, ofKit, set.derivation)
        if (read.field !== field)
          throw new ProblemError(
            'conflict',
            'Whether there is one for each of like parts is said by the kit.',
          )
      }
      check(found.definition, own)
      await tx.update(signal).set({ own }).where(eq(signal.id, signalId))
      if (found.definition.origin === 'derived') await linkDerived(tx, [ofKit])
      await rememberOwn(tx, found.signal, own, { at: now(), personId })
      const { kitId, name } = found.definition
      return { kitId, deviceId: found.signal.deviceId, name, before: found.signal.own, after: own }
    })
    await registry.load(kitId)
    const address = registry.byId(deviceId)?.address
    if (address) hub.deviceChanged(address)
    const says = `The device's own settings of "${name}" were changed.`
    const change = changeOf(before, after, [...Object.keys(set), ...takeBack])
    await events.write({ kind: 'signal', at: now(), deviceId, signalId, caller, says, change })
  })

  binder.bind(routes.changeDoubt, async ({ params: { signalId }, body: { why }, caller }) => {
    const known = registry.signal(signalId)
    const device = known && registry.get(known.address)
    if (!device) throw noSignal()
    const doubt = why === null ? null : { why: why.trim(), person: caller.person.name, at: now() }
    await database.update(signal).set({ doubt }).where(eq(signal.id, signalId))
    await registry.load(device.kitId)
    hub.deviceChanged(device.address)
    const { name } = known.signal.definition
    const says = why === null ? `"${name}" is trusted again.` : `"${name}" is doubtful: ${why.trim()}`
    await events.write({ kind: 'signal', at: now(), deviceId: device.id, signalId, caller, says })
  })

  binder.bind(routes.listDescriptionVersions, async ({ params: { signalId } }) => {
    const [found] = await database.select().from(signal).where(eq(signal.id, signalId))
    if (!found) throw noSignal()
    const rows = await database
      .select({ version: descriptionVersion, person: person.name })
      .from(descriptionVersion)
      .leftJoin(person, eq(person.id, descriptionVersion.personId))
      .where(
        and(
          eq(descriptionVersion.definitionId, found.definitionId),
          or(isNull(descriptionVersion.signalId), eq(descriptionVersion.signalId, signalId)),
        ),
      )
      .orderBy(desc(descriptionVersion.validFrom), desc(descriptionVersion.id))
    return rows.map(({ version, person: by }) => ({
      validFrom: version.validFrom.getTime(),
      ofDevice: version.signalId !== null,
      person: by,
      described: version.described as Record<string, unknown>,
    }))
  })

  binder.bind(routes.listCalibrations, ({ params: { signalId } }) => calibrationsOf(signalId))

  binder.bind(routes.addCalibration, async ({ params: { signalId }, body, caller }) => {
    const known = registry.signal(signalId)
    if (!known) throw noSignal()
    if (known.signal.definition.kind !== 'number')
      throw new ProblemError('invalid', 'Only a number can be corrected.')
    if (body.gain === 0) throw new ProblemError('invalid', 'A gain of 0 makes the same of everything.')
    const made = await database.transaction(async (tx) => {
      const [row] = await tx
        .insert(calibration)
        .values({ ...body, validFrom: new Date(body.validFrom), signalId, personId: caller.person.id })
        .returning({ id: calibration.id })
      await dueFrom(tx, signalId, body.validFrom)
      return row
    })
    const added = (await calibrationsOf(signalId)).find(({ id }) => id === made?.id)
    if (!added) throw new Error('the calibration was not found after it was made')
    await corrected(signalId, caller, `"${known.signal.definition.name}" was calibrated: ${body.evidence}`)
    return added
  })

  binder.bind(routes.takeBackCalibration, async ({ params: { calibrationId }, caller }) => {
    const gone = await database.transaction(async (tx) => {
      const [row] = await tx
        .update(calibration)
        .set({ takenBackAt: new Date(now()) })
        .where(and(eq(calibration.id, calibrationId), isNull(calibration.takenBackAt)))
        .returning({ signalId: calibration.signalId, validFrom: calibration.validFrom })
      if (row) await dueFrom(tx, row.signalId, row.validFrom.getTime())
      return row
    })
    if (!gone)
      throw new ProblemError('not-found', 'There is no such calibration, or it was taken back already.')
    const name = registry.signal(gone.signalId)?.signal.definition.name ?? ''
    await corrected(gone.signalId, caller, `A calibration of "${name}" was taken back.`)
  })

  const calibrationsOf = async (signalId: number) => {
    const rows = await database
      .select({ row: calibration, person: person.name })
      .from(calibration)
      .leftJoin(person, eq(person.id, calibration.personId))
      .where(eq(calibration.signalId, signalId))
      .orderBy(desc(calibration.validFrom), asc(calibration.id))
    return rows.map(({ row: { id, gain, offset, validFrom, evidence, takenBackAt }, person: by }) => ({
      id,
      gain,
      offset,
      evidence,
      validFrom: validFrom.getTime(),
      person: by,
      takenBackAt: takenBackAt?.getTime() ?? null,
    }))
  }

  const corrected = async (signalId: number, caller: Caller, says: string) => {
    const address = registry.signal(signalId)?.address
    const known = address === undefined ? undefined : registry.get(address)
    if (known) await registry.load(known.kitId)
    if (address !== undefined) hub.deviceChanged(address)
    await events.write({ kind: 'signal', at: now(), deviceId: known?.id ?? null, signalId, caller, says })
  }
}

const noSignal = (): ProblemError => new ProblemError('not-found', 'There is no such signal.')
