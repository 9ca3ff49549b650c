import type { DevicePresence } from '@jaunty-sparrow/contract'
import { type Presence, presenceOf, signalPresence } from '@jaunty-sparrow/core/presence'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'

interface PresenceKeeperParts {
  readonly registry: DeviceRegistry
  /** Epoch ms. */
  readonly now: () => number
  /** Told how devices do, when one or one of its signals does otherwise than before. */
  readonly changed: (devices: readonly DevicePresence[]) => void
  /** Told when a device has fallen silent, and since when it was not heard, epoch ms. */
  readonly silent: (device: RegisteredDevice, heardAt: number) => void
  /** Told when one that was silent was heard again. */
  readonly back: (device: RegisteredDevice, at: number) => void
}

interface Known {
  presence: Presence
  readonly signals: Map<number, Presence>
}

/** So long, ms, a device may still speak while it shuts down. */
const lastWords = 60_000

/** What is known from before the start. */
export interface Remembered {
  /** When devices were heard last, epoch ms. */
  readonly devices: ReadonlyMap<number, number>
  /** When readings of signals came in last, epoch ms. */
  readonly signals: ReadonlyMap<number, number>
  /** The devices that had dropped out already. */
  readonly silent: ReadonlySet<number>
  /** When devices were shut down, epoch ms. */
  readonly down: ReadonlyMap<number, number>
  /** Until when no server was there to hear anything, epoch ms; null when one was. */
  readonly awayUntil: number | null
}

/** Knows how well every device and every signal keeps to what is expected of it. */
export class PresenceKeeper {
  readonly #parts: PresenceKeeperParts
  readonly #heardAt: Map<number, number>
  readonly #signalHeardAt: Map<number, number>
  readonly #silent: Set<number>
  readonly #awayUntil: number
  /** When devices were shut down, epoch ms. */
  readonly #downAt: Map<number, number>
  readonly #known = new Map<number, Known>()

  constructor(parts: PresenceKeeperParts, remembered: Remembered) {
    this.#parts = parts
    this.#heardAt = new Map(remembered.devices)
    this.#signalHeardAt = new Map(remembered.signals)
    this.#silent = new Set(remembered.silent)
    this.#downAt = new Map(remembered.down)
    this.#awayUntil = remembered.awayUntil ?? Number.NEGATIVE_INFINITY
  }

  /** A message came of a device, whatever came of it. @param at epoch ms */
  heard(device: number, at: number): void {
    if (at <= (this.#heardAt.get(device) ?? 0)) return
    this.#heardAt.set(device, at)
  }

  /** Devices confirmed that they shut down: they are expected no more until they are heard again. @param devices with when, epoch ms */
  shutDown(devices: ReadonlyMap<number, number>): void {
    for (const [device, at] of devices) this.#downAt.set(device, at)
  }

  heardReadings(readings: readonly Reading[]): void {
    for (const { signal, receivedAt } of readings)
      if (receivedAt > (this.#signalHeardAt.get(signal) ?? 0)) this.#signalHeardAt.set(signal, receivedAt)
  }

  /** Of messages that another server took in, not all are told; of their readings all are. */
  heardElsewhere(readings: readonly Reading[]): void {
    const { registry } = this.#parts
    for (const { signal, receivedAt } of readings) {
      const device = registry.get(registry.signal(signal)?.address ?? '')
      if (device) this.heard(device.id, receivedAt)
    }
    this.heardReadings(readings)
  }

  heardAt(device: number): number | null {
    return this.#heardAt.get(device) ?? null
  }

  /** How a device does now, with all of its signals. */
  of(device: RegisteredDevice): DevicePresence {
    const { presence, signals } = this.#judge(device)
    return { device: device.id, heardAt: this.heardAt(device.id), presence, signals: [...signals] }
  }

  /** How a signal did when that was looked at last; undefined where there is none such. */
  ofSignal(signal: number): Presence | undefined {
    const { registry } = this.#parts
    const device = registry.get(registry.signal(signal)?.address ?? '')
    return device && this.#known.get(device.id)?.signals.get(signal)
  }

  /** How all devices do now. */
  readonly all = (): DevicePresence[] => Array.from(this.#parts.registry.all(), (device) => this.of(device))

  /** Looks who does otherwise than before, and tells. */
  look(): void {
    const { registry, changed, silent, back } = this.#parts
    const told: DevicePresence[] = []
    for (const device of registry.all()) {
      const before = this.#known.get(device.id)
      const now = this.#judge(device)
      this.#known.set(device.id, now)
      const signals = [...now.signals].filter(
        ([signal, presence]) => before?.signals.get(signal) !== presence,
      )
      const heardAt = this.heardAt(device.id)
      if (before?.presence !== now.presence || signals.length > 0)
        told.push({ device: device.id, heardAt, presence: now.presence, signals })
      if (now.presence === 'silent' && heardAt !== null && !this.#silent.has(device.id)) {
        this.#silent.add(device.id)
        silent(device, heardAt)
      }
      if (now.presence !== 'silent' && this.#silent.delete(device.id))
        back(device, heardAt ?? this.#parts.now())
    }
    if (told.length > 0) changed(told)
  }

  forget(device: RegisteredDevice): void {
    for (const map of [this.#heardAt, this.#known, this.#downAt]) map.delete(device.id)
    this.#silent.delete(device.id)
    for (const { signal } of device.signals) this.#signalHeardAt.delete(signal)
  }

  #isDown(device: number): boolean {
    const downAt = this.#downAt.get(device)
    return downAt !== undefined && (this.heardAt(device) ?? 0) <= downAt + lastWords
  }

  #judge(device: RegisteredDevice): Known {
    const now = this.#parts.now()
    const cadence = this.#parts.registry.cadence(device)?.cadence ?? null
    // Who was there while no server was could not be heard: its turns count from when one listened again.
    const excused = (heardAt: number | null, isSilent: boolean) =>
      heardAt === null || isSilent ? heardAt : Math.max(heardAt, this.#awayUntil)
    const isSilent = this.#silent.has(device.id)
    const isDown = this.#isDown(device.id)
    const presence = device.isRetired
      ? 'retired'
      : isDown
        ? 'down'
        : presenceOf(excused(this.heardAt(device.id), isSilent), now, cadence)
    const signals = new Map<number, Presence>()
    for (const { signal, definition, isFormer } of device.signals) {
      if (definition.state === 'ignored' || isFormer) continue
      // What follows from others is not heard of by itself, and of what is retired nothing is.
      if (definition.origin === 'derived' || device.isRetired || isDown) {
        signals.set(signal, presence)
        continue
      }
      const heardAt = excused(this.#signalHeardAt.get(signal) ?? null, isSilent)
      signals.set(signal, signalPresence(presence, heardAt, now, definition.cadence ?? cadence))
    }
    return { presence, signals }
  }
}
