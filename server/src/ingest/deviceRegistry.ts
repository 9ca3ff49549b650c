import {
  arrivalsToLearnFrom,
  type Claim,
  type DeviceLimits,
  type DeviceSignal,
  type Keep,
  learnCadence,
  limitsOf,
  signalName,
  type UnknownField,
} from '@jaunty-sparrow/core'
import { asc, eq, sql } from 'drizzle-orm'
import groupBy from 'lodash-es/groupBy.js'
import type { Database } from '../store/database.ts'
import { claim, device, kit, signal, signalDefinition } from '../store/schema.ts'

/** A device as the doors know it: who it is, how it proves it, and where its fields go. */
export interface RegisteredDevice {
  readonly id: number
  readonly kitId: number
  readonly address: string
  readonly secretHash: Buffer
  readonly statedCadence: number | null
  readonly limits: DeviceLimits
  /** Topic filters outside its own branch that its key may publish to. */
  readonly reach: readonly string[]
  /** Whose the messages are that its key sends for others. */
  readonly claims: readonly Claim[]
  readonly signals: ReadonlyMap<string, DeviceSignal>
  /** Instants of its last messages, epoch ms, oldest first. */
  readonly arrivals: number[]
}

/** Which server on the database a change comes from. */
export type Origin = 'here' | 'elsewhere'

export type RegistryChange =
  | { readonly kind: 'loaded'; readonly kitId: number | null }
  | { readonly kind: 'forgotten'; readonly address: string }

/** A board that makes up field names must not fill the database with signals nobody asked for. */
const mostSuggestions = 40

/** All devices in memory, so that a message is understood without asking the database. */
export class DeviceRegistry {
  readonly #database: Database
  readonly #devices = new Map<string, RegisteredDevice>()
  readonly #addresses = new Map<number, string>()
  #claims = new Map<number, Claim[]>()
  readonly #thinned = new Map<number, Keep>()
  readonly #revokedListeners: ((address: string) => void)[] = []
  readonly #changeListeners: ((change: RegistryChange, from: Origin) => void)[] = []
  #loading: Promise<void> = Promise.resolve()
  /** What was forgotten while devices are being read must not come back with them. */
  readonly #forgottenMeanwhile = new Set<string>()
  /** One suggestion at a time for each kit, so that two messages at once do not outrun the limit. */
  readonly #suggesting = new Map<number, Promise<unknown>>()

  constructor(database: Database) {
    this.#database = database
  }

  get(address: string): RegisteredDevice | undefined {
    return this.#devices.get(address)
  }

  byId(id: number): RegisteredDevice | undefined {
    const address = this.#addresses.get(id)
    return address === undefined ? undefined : this.#devices.get(address)
  }

  /** A device as it is known now: it may have changed since somebody asked for it. */
  present(device: RegisteredDevice): RegisteredDevice {
    return this.#devices.get(device.address) ?? device
  }

  all(): IterableIterator<RegisteredDevice> {
    return this.#devices.values()
  }

  /**
   * Reads devices anew: all of them, or those of one kit. One reading after the other, so that the newest stands.
   * @param from where they were changed: by this server, or by another one on the same database
   */
  load(kitId?: number, from: Origin = 'here'): Promise<void> {
    const turn = this.#loading.then(() => this.#load(kitId, from))
    this.#loading = turn.catch(() => undefined)
    return turn
  }

  async #load(kitId: number | undefined, from: Origin): Promise<void> {
    this.#forgottenMeanwhile.clear()
    const rows = await this.#database
      .select({ device, cadenceSeconds: kit.cadenceSeconds })
      .from(device)
      .innerJoin(kit, eq(kit.id, device.kitId))
      .where(kitId === undefined ? undefined : eq(device.kitId, kitId))
    const definitions = await this.#database
      .select({ id: signal.id, deviceId: signal.deviceId, definition: signalDefinition })
      .from(signal)
      .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
      .where(kitId === undefined ? undefined : eq(signalDefinition.kitId, kitId))
    await this.#loadClaims()
    const byDevice = groupBy(definitions, (row) => row.deviceId)
    for (const row of rows) {
      if (this.#forgottenMeanwhile.has(row.device.address)) continue
      const signals = (byDevice[row.device.id] ?? []).map(({ id, definition }): [string, DeviceSignal] => {
        const { rangeLow, rangeHigh, ...rest } = definition
        if (rest.keep.by === 'every') this.#thinned.delete(id)
        else this.#thinned.set(id, rest.keep)
        return [
          definition.field,
          { signal: id, definition: { ...rest, range: { low: rangeLow, high: rangeHigh } } },
        ]
      })
      const before = this.#devices.get(row.device.address)
      this.#addresses.set(row.device.id, row.device.address)
      this.#devices.set(row.device.address, {
        id: row.device.id,
        kitId: row.device.kitId,
        address: row.device.address,
        secretHash: row.device.secretHash,
        statedCadence: row.cadenceSeconds,
        limits: limitsOf(row.device, row.cadenceSeconds),
        reach: row.device.reach,
        claims: this.#claims.get(row.device.id) ?? [],
        signals: new Map(signals),
        arrivals: before?.arrivals ?? [],
      })
      if (before && !before.secretHash.equals(row.device.secretHash)) this.#revoke(before.address)
    }
    if (kitId === undefined) {
      const found = new Set(rows.map((row) => row.device.address))
      for (const address of [...this.#devices.keys()]) if (!found.has(address)) this.forget(address, from)
    }
    this.#tell({ kind: 'loaded', kitId: kitId ?? null }, from)
  }

  async #loadClaims(): Promise<void> {
    const rows = await this.#database
      .select({ claim, address: device.address })
      .from(claim)
      .leftJoin(device, eq(device.id, claim.deviceId))
      .orderBy(asc(claim.id))
    const claims = new Map<number, Claim[]>()
    for (const { claim: row, address } of rows)
      claims.set(row.keyId, [...(claims.get(row.keyId) ?? []), claimOf(row, address)])
    this.#claims = claims
  }

  /** What is stored of the signals of which not everything is, by their numbers. */
  thinned(): ReadonlyMap<number, Keep> {
    return this.#thinned
  }

  /** From now on the doors do not know this device any more. */
  forget(address: string, from: Origin = 'here'): void {
    this.#forgottenMeanwhile.add(address)
    const known = this.#devices.get(address)
    if (known) {
      for (const { signal } of known.signals.values()) this.#thinned.delete(signal)
      this.#addresses.delete(known.id)
      this.#devices.delete(address)
    }
    this.#revoke(address)
    this.#tell({ kind: 'forgotten', address }, from)
  }

  /** Calls back when a credential stops being good, so that a door can let go of who came in with it. */
  onRevoked(listener: (address: string) => void): void {
    this.#revokedListeners.push(listener)
  }

  /** Calls back when the devices are known anew. */
  onChange(listener: (change: RegistryChange, from: Origin) => void): void {
    this.#changeListeners.push(listener)
  }

  #tell(change: RegistryChange, from: Origin): void {
    for (const listener of this.#changeListeners) listener(change, from)
  }

  #revoke(address: string): void {
    for (const listener of this.#revokedListeners) listener(address)
  }

  /** Takes up what is kept of the last arrivals, so that cadences need not be learned anew after a start. */
  recall(arrivals: ReadonlyMap<number, readonly number[]>): void {
    for (const [id, instants] of arrivals) this.byId(id)?.arrivals.unshift(...instants)
  }

  /** Remembers that a device spoke, to learn its cadence from. */
  arrived({ arrivals }: RegisteredDevice, at: number): void {
    arrivals.push(at)
    if (arrivals.length > arrivalsToLearnFrom) arrivals.shift()
  }

  cadence({
    statedCadence,
    arrivals,
  }: RegisteredDevice): { seconds: number; source: 'stated' | 'learned' } | null {
    if (statedCadence !== null) return { seconds: statedCadence, source: 'stated' }
    const seconds = learnCadence(arrivals)
    return seconds === null ? null : { seconds, source: 'learned' }
  }

  /**
   * Makes suggested signals of fields nobody has described, as far as the limit allows.
   * @returns the device as it is known afterwards
   */
  async suggest(known: RegisteredDevice, fields: readonly UnknownField[]): Promise<RegisteredDevice> {
    const before = this.#suggesting.get(known.kitId) ?? Promise.resolve()
    const turn = before.catch(() => undefined).then(() => this.#suggest(known.address, fields))
    this.#suggesting.set(known.kitId, turn)
    try {
      await turn
    } finally {
      if (this.#suggesting.get(known.kitId) === turn) this.#suggesting.delete(known.kitId)
    }
    return this.present(known)
  }

  async #suggest(address: string, fields: readonly UnknownField[]): Promise<void> {
    const current = this.#devices.get(address)
    if (!current) return
    const waiting = [...current.signals.values()].filter((s) => s.definition.state === 'suggested').length
    const fresh = fields
      .filter(({ pointer }) => !current.signals.has(pointer))
      .slice(0, mostSuggestions - waiting)
    if (fresh.length === 0) return
    await this.#database.transaction(async (tx) => {
      await tx
        .insert(signalDefinition)
        .values(
          fresh.map(({ pointer, kind, unit }) => ({
            kitId: current.kitId,
            field: pointer,
            name: signalName(pointer),
            kind,
            unit,
            state: 'suggested' as const,
          })),
        )
        .onConflictDoNothing()
      await makeSignals(tx, current.kitId)
    })
    await this.load(current.kitId)
  }
}

const claimOf = (row: typeof claim.$inferSelect, device: string | null): Claim =>
  row.by === 'topic'
    ? { by: 'topic', pattern: row.place, device, part: row.part }
    : { by: 'field', pointer: row.place, value: row.value, device }

/** Gives every device of a kit its own signal for every definition of the kit. */
export async function makeSignals(database: Pick<Database, 'execute'>, kitId: number): Promise<void> {
  await database.execute(sql`
    insert into ${signal} (device_id, definition_id)
    select ${device.id}, ${signalDefinition.id} from ${device} join ${signalDefinition} using (kit_id)
    where ${device.kitId} = ${kitId}
    on conflict do nothing`)
}
