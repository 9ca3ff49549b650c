import { arrivalsToLearnFrom, learnCadence } from '@jaunty-sparrow/core/device'
import type { UnknownField } from '@jaunty-sparrow/core/interpret'
import type { Cadence, DeviceSignal, Reading, StoringRule } from '@jaunty-sparrow/core/signal'
import { between, convertedTo } from '@jaunty-sparrow/core/units'
import type { Database } from '../store/database.ts'
import { Calibrations } from './calibrations.ts'
import { suggestSignals } from './makeSignals.ts'
import { readDevices, type WrittenDevice } from './readDevices.ts'
import type { RegisteredDevice } from './registeredDevice.ts'

/** Which server on the database a change comes from. */
export type Origin = 'here' | 'elsewhere'

export type RegistryChange =
  | { readonly kind: 'loaded'; readonly kitId: number | null }
  | { readonly kind: 'forgotten'; readonly address: string }

/** All devices in memory, so that a message is understood without asking the database. */
export class DeviceRegistry {
  readonly #database: Database
  readonly #devices = new Map<string, RegisteredDevice>()
  readonly #addresses = new Map<number, string>()
  readonly #signals = new Map<number, { readonly address: string; readonly signal: DeviceSignal }>()
  readonly #thinned = new Map<number, StoringRule>()
  readonly #revokedListeners: ((address: string) => void)[] = []
  readonly #deletedListeners: ((device: RegisteredDevice) => void)[] = []
  readonly #changeListeners: ((change: RegistryChange, from: Origin) => void)[] = []
  #loading: Promise<void> = Promise.resolve()
  /** What was forgotten while devices are being read must not come back with them. */
  readonly #forgottenMeanwhile = new Set<string>()
  /** One suggestion at a time for each kit, so that two messages at once do not outrun the limit. */
  readonly #suggesting = new Map<number, Promise<unknown>>()

  readonly calibrations: Calibrations
  #latest: { of(signal: number): Reading | undefined } | undefined

  constructor(database: Database) {
    this.#database = database
    this.calibrations = new Calibrations(database)
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
    const written = await readDevices(this.#database, kitId)
    await this.calibrations.load()
    for (const device of written) if (!this.#forgottenMeanwhile.has(device.address)) this.#keep(device)
    if (kitId === undefined) {
      const found = new Set(written.map(({ address }) => address))
      for (const address of [...this.#devices.keys()]) if (!found.has(address)) this.forget(address, from)
    }
    this.#tell({ kind: 'loaded', kitId: kitId ?? null }, from)
  }

  #keep(device: WrittenDevice): void {
    const { id, address, signals } = device
    const formerAddress = this.#addresses.get(id)
    const before = this.#devices.get(formerAddress ?? address)
    if (before) this.#forgetSignals(before)
    if (formerAddress !== undefined && formerAddress !== address) {
      this.#devices.delete(formerAddress)
      this.#revoke(formerAddress)
    }
    for (const known of signals) {
      this.#signals.set(known.signal, { address, signal: known })
      const { storing } = known.definition
      if (storing.by !== 'every') this.#thinned.set(known.signal, storing)
    }
    this.#addresses.set(id, address)
    this.#devices.set(address, { ...device, arrivals: before?.arrivals ?? [] })
    if (device.isRetired && !before?.isRetired) this.#revoke(address)
    else if (
      before &&
      secretsOf(before).some((secret) => !secretsOf(device).some((good) => good.equals(secret)))
    )
      this.#revoke(address)
  }

  #forgetSignals({ signals }: RegisteredDevice): void {
    for (const { signal } of signals) {
      this.#thinned.delete(signal)
      this.#signals.delete(signal)
    }
  }

  /** A signal by its number, and the address of its device. */
  signal(id: number): { readonly address: string; readonly signal: DeviceSignal } | undefined {
    return this.#signals.get(id)
  }

  /** What is stored of the signals of which not everything is, by their numbers. */
  thinned(): ReadonlyMap<number, StoringRule> {
    return this.#thinned
  }

  /** From now on the doors do not know this device any more. */
  forget(address: string, from: Origin = 'here'): void {
    this.#forgottenMeanwhile.add(address)
    const known = this.#devices.get(address)
    if (known) {
      this.#forgetSignals(known)
      this.#addresses.delete(known.id)
      this.#devices.delete(address)
    }
    this.#revoke(address)
    if (known) for (const listener of this.#deletedListeners) listener(known)
    this.#tell({ kind: 'forgotten', address }, from)
  }

  /** Calls back when a credential stops being good, so that a door can let go of who came in with it. */
  onRevoked(listener: (address: string) => void): void {
    this.#revokedListeners.push(listener)
  }

  /** Calls back when a device is no more. */
  onDeleted(listener: (device: RegisteredDevice) => void): void {
    this.#deletedListeners.push(listener)
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

  /** Lets it know what signals say: a device may tell how often it speaks. */
  listensTo(latest: { of(signal: number): Reading | undefined }): void {
    this.#latest = latest
  }

  /** How often a device speaks: as it says itself, as its kit says, else as it did lately; null while nobody knows. */
  cadence({
    statedCadence,
    arrivals,
    signals,
  }: Pick<RegisteredDevice, 'statedCadence' | 'arrivals' | 'signals'>): {
    cadence: Cadence
    source: 'stated' | 'learned'
  } | null {
    const told = this.#toldInterval(signals)
    if (told !== undefined) {
      const by = statedCadence?.by === 'sleep' ? 'sleep' : 'always'
      return { cadence: { by, seconds: told }, source: 'stated' }
    }
    if (statedCadence !== null) return { cadence: statedCadence, source: 'stated' }
    const seconds = learnCadence(arrivals)
    return seconds === null ? null : { cadence: { by: 'always', seconds }, source: 'learned' }
  }

  /** What a device reports of how often it speaks, s. */
  #toldInterval(signals: Iterable<DeviceSignal>): number | undefined {
    for (const { signal, definition, isFormer } of signals) {
      if (!definition.control?.setsInterval || isFormer || definition.unit === null) continue
      const value = this.#latest?.of(signal)?.value
      const toSeconds = between(definition.unit, 's')
      if (typeof value !== 'number' || !toSeconds) continue
      const seconds = convertedTo(value, toSeconds)
      if (seconds > 0) return seconds
    }
    return undefined
  }

  /**
   * Makes suggested signals of fields nobody has described, as far as the limit allows.
   * @returns the device as it is known afterwards
   */
  async suggest(known: RegisteredDevice, fields: readonly UnknownField[]): Promise<RegisteredDevice> {
    const before = this.#suggesting.get(known.kitId) ?? Promise.resolve()
    const turn = before.catch(() => undefined).then(() => this.#suggest(known, fields))
    this.#suggesting.set(known.kitId, turn)
    try {
      await turn
    } finally {
      if (this.#suggesting.get(known.kitId) === turn) this.#suggesting.delete(known.kitId)
    }
    return this.present(known)
  }

  async #suggest(known: RegisteredDevice, fields: readonly UnknownField[]): Promise<void> {
    const current = this.#devices.get(known.address)
    if (current && (await suggestSignals(this.#database, current, fields))) await this.load(current.kitId)
  }
}

/** What a device may come in with. */
const secretsOf = ({ secretHash, formerSecretHash }: WrittenDevice): Buffer[] =>
  formerSecretHash ? [secretHash, formerSecretHash] : [secretHash]
