import { routes, type ValueExplanation } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { compileFormula } from '@jaunty-sparrow/core/formula'
import { surroundingsOf } from '@jaunty-sparrow/core/interpret'
import { type DeviceSignal, hasQuality, Quality, type Reading } from '@jaunty-sparrow/core/signal'
import { and, desc, eq, gte, isNull, lte, or } from 'drizzle-orm'
import { explainDerived } from '../derived/explainDerived.ts'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Decoding } from '../ingest/decoding.ts'
import { ownedRecords, senderOf } from '../ingest/ownedRecords.ts'
import type { MessageStore } from '../messages/messageStore.ts'
import type { ReadingStore } from '../readings/readingStore.ts'
import type { Database } from '../store/database.ts'
import { calibration, descriptionVersion, person, recomputation } from '../store/schema.ts'

export interface ExplainParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly store: ReadingStore
  readonly messages: MessageStore
  readonly decoding: Decoding
}

/** As much of a message as shows what it was, bytes. */
const longestBeginning = 2000

/** From any value back to where it came from. */
export function bindExplain(parts: ExplainParts): void {
  const { binder, registry, store } = parts
  binder.bind(
    routes.explainValue,
    async ({ params: { signalId }, query: { at }, caller }): Promise<ValueExplanation> => {
      const found = registry.signal(signalId)
      const device = found && registry.get(found.address)
      const [reading] = await store.lastAt([signalId], at)
      if (!device || !reading)
        throw new ProblemError('not-found', 'This signal has no reading up to that instant.')
      const { signal } = found
      const said = await saidThen(parts.database, signal, reading.receivedAt)
      const anew = await madeAnew(parts.database, signalId, reading)
      const conversion = reading.raw === undefined ? null : anew ? anew.conversion : said.conversion
      const isDerived = signal.definition.origin === 'derived'
      const nameOf = (input: number) => {
        const there = registry.signal(input)
        return there
          ? `${there.signal.definition.name} ${there.signal.part} of ${registry.get(there.address)?.name}`.replace(
              '  ',
              ' ',
            )
          : 'a signal that is no more'
      }
      const derived = isDerived
        ? await explainDerived(parts.database.$client, signalId, reading.at, nameOf)
        : null
      const text = derived?.formula ?? conversion
      const formula = text === null ? undefined : compileFormula(text)
      const needs = formula && !('problem' in formula) ? formula : { fields: [], constants: [] }
      const kept = isDerived ? undefined : await messageOf(parts, device, reading)
      const around = kept?.record && surroundingsOf(kept.record, device.signals, signal)
      const isSeen = (input: { readonly signal: number }) => {
        const address = registry.signal(input.signal)?.address
        return mayAt(caller.access, 'viewer', registry.get(address ?? '')?.siteId ?? -1)
      }
      const isAtFault = hasQuality(reading.quality, Quality.atFault)
      const sent = reading.raw ?? reading.value
      return {
        at: reading.at,
        receivedAt: reading.receivedAt,
        raw: reading.raw ?? null,
        stored: reading.value,
        quality: reading.quality,
        fault: isAtFault
          ? (signal.definition.faults.find(({ value }) => value === sent)?.name ?? 'fault')
          : null,
        said: said.version,
        madeAnew: anew ? { at: anew.at, person: anew.person } : null,
        // What means a fault went past the formula.
        conversion: isAtFault ? null : conversion,
        fields: needs.fields.flatMap((name) => {
          const value = around?.field(name)
          return value === undefined ? [] : [{ name, value }]
        }),
        constants: needs.constants.flatMap((name) => {
          const value = device.signals.constants[name]
          return value === undefined ? [] : [{ name, value }]
        }),
        derived: derived && { ...derived, inputs: derived.inputs.filter(isSeen) },
        calibration: isAtFault ? null : await calibrationThen(parts.database, signalId, reading.at),
        shown: registry.calibrations.outward(reading).value,
        message: kept ? kept.told : null,
      }
    },
  )
}

/** What was said of a signal when a reading came in: by its kit, and by its device. */
async function saidThen(database: Database, { signal, definition }: DeviceSignal, at: number) {
  const rows = await database
    .select({ version: descriptionVersion, by: person.name })
    .from(descriptionVersion)
    .leftJoin(person, eq(person.id, descriptionVersion.personId))
    .where(
      and(
        eq(descriptionVersion.definitionId, definition.id),
        or(isNull(descriptionVersion.signalId), eq(descriptionVersion.signalId, signal)),
        lte(descriptionVersion.validFrom, new Date(at)),
      ),
    )
    .orderBy(desc(descriptionVersion.validFrom), desc(descriptionVersion.id))
  const conversionIn = (described: Record<string, unknown>) =>
    'conversion' in described ? (described.conversion as string | null) : undefined
  const own = rows.find(({ version }) => version.signalId !== null)
  const ofKit = rows.find(({ version }) => version.signalId === null)
  const kitSettings = (ofKit?.version.described ?? {}) as {
    field?: string
    settings?: Record<string, unknown>
  }
  const ownConversion = own && conversionIn(own.version.described as Record<string, unknown>)
  const made = ownConversion === undefined ? ofKit : own
  return {
    conversion: ownConversion ?? conversionIn(kitSettings.settings ?? {}) ?? null,
    version: made
      ? {
          validFrom: made.version.validFrom.getTime(),
          ofDevice: made.version.signalId !== null,
          person: made.by,
          field: kitSettings.field ?? null,
        }
      : null,
  }
}

/** The last time a reading was made anew of what was sent, after it had come in. */
async function madeAnew(database: Database, signalId: number, { at, receivedAt }: Reading) {
  const [row] = await database
    .select({ row: recomputation, by: person.name })
    .from(recomputation)
    .leftJoin(person, eq(person.id, recomputation.personId))
    .where(
      and(
        eq(recomputation.signalId, signalId),
        isNull(recomputation.undoneAt),
        lte(recomputation.fromAt, new Date(at)),
        gte(recomputation.toAt, new Date(at)),
        gte(recomputation.createdAt, new Date(receivedAt)),
      ),
    )
    .orderBy(desc(recomputation.id))
    .limit(1)
  return row && { conversion: row.row.conversion, at: row.row.createdAt.getTime(), person: row.by }
}

async function calibrationThen(database: Database, signalId: number, at: number) {
  const [row] = await database
    .select({ row: calibration, by: person.name })
    .from(calibration)
    .leftJoin(person, eq(person.id, calibration.personId))
    .where(
      and(
        eq(calibration.signalId, signalId),
        isNull(calibration.takenBackAt),
        lte(calibration.validFrom, new Date(at)),
      ),
    )
    .orderBy(desc(calibration.validFrom), desc(calibration.id))
    .limit(1)
  if (!row) return null
  const { id, gain, offset, validFrom, evidence } = row.row
  return { id, gain, offset, validFrom: validFrom.getTime(), evidence, person: row.by, takenBackAt: null }
}

/** The message a reading came in with, while it is kept, and the record of it that holds the reading. */
async function messageOf(
  { registry, messages, decoding }: ExplainParts,
  device: RegisteredDevice,
  { at, receivedAt }: Reading,
) {
  const kept = await messages.receivedAt(device.id, receivedAt)
  if (!kept) return undefined
  const { id, door, size } = kept.arrival
  const told = { id, door, size, beginning: kept.body.subarray(0, longestBeginning).toString('utf8') }
  const sender = senderOf(registry, device, kept.arrival)
  const owned =
    sender &&
    ownedRecords(registry, sender, await decoding.read({ ...kept.arrival, body: kept.body }, receivedAt))
  if (!owned || 'problem' in owned) return { told, record: undefined }
  const records = owned.records.filter((_, index) => owned.owners[index]?.id === device.id)
  const record = records.find((one) => Number(one.time) === at) ?? records[0]
  return { told, record }
}
