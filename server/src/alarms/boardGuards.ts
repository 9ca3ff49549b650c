import { boardGuard, type GuardedSignal } from '@jaunty-sparrow/core/alarm'
import { calibrationAt } from '@jaunty-sparrow/core/calibration'
import { wireName } from '@jaunty-sparrow/core/command'
import { type DeviceSignal, fieldOfPart, type Priority, priorities } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { AlarmBook } from './alarmBook.ts'
import type { AlarmTests } from './alarmTests.ts'

interface BoardGuardsParts {
  readonly registry: DeviceRegistry
  readonly alarmBook: Pick<AlarmBook, 'standing'>
  readonly tests: Pick<AlarmTests, 'on'>
  /** Epoch ms. */
  readonly now: () => number
}

/** How often all boards are looked at, whatever happens, ms: a correction begins to hold by time alone. */
const looksAtAllEvery = 60_000

/** Told what a board guards by, when that is otherwise than it was; empty where it guards by nothing any more. */
type Listener = (device: Pick<RegisteredDevice, 'id' | 'address'>, says: string) => void

/** Knows by what each board guards: the limits of its signals in what it sends, and whether an alarm of it waits for a word. */
export class BoardGuards {
  readonly #parts: BoardGuardsParts
  readonly #told = new Map<number, { readonly address: string; readonly says: string }>()
  readonly #listeners: Listener[] = []
  /** The highest priority of what waits for a word, by device. */
  #waiting: ReadonlyMap<number, Priority> = new Map()
  #isStale = true
  #looking: Promise<void> = Promise.resolve()
  /** When all boards are looked at next, epoch ms. */
  #allAt = 0

  constructor(parts: BoardGuardsParts) {
    this.#parts = parts
    parts.registry.onChange(() => {
      this.#allAt = 0
    })
  }

  onChanged(listener: Listener): void {
    this.#listeners.push(listener)
    for (const [id, { address, says }] of this.#told) listener({ id, address }, says)
  }

  /** Alarms may stand otherwise: it is looked at when there is time. */
  mark(): void {
    this.#isStale = true
  }

  /** What a board guards by, as it is told; undefined where it guards by nothing. */
  of(device: number): string | undefined {
    const told = this.#told.get(device)?.says
    if (told !== undefined) return told
    // One that came just now has no alarm yet.
    const known = this.#parts.registry.byId(device)
    return known && this.#saysOf(known, null)
  }

  /** Looks who guards by something else than before, and tells. One look after the other: the last to tell is the last to have read. */
  look(): Promise<void> {
    const next = () => this.#look()
    this.#looking = this.#looking.then(next, next)
    return this.#looking
  }

  async #look(): Promise<void> {
    const { now } = this.#parts
    const isAll = now() >= this.#allAt
    if (!this.#isStale && !isAll) return
    this.#isStale = false
    if (isAll) this.#allAt = now() + looksAtAllEvery
    try {
      const before = this.#waiting
      this.#waiting = await this.#readWaiting()
      if (isAll) this.#lookAtAll()
      else this.#lookAtChanged(before)
    } catch (error) {
      this.#allAt = 0
      throw error
    }
  }

  async #readWaiting(): Promise<Map<number, Priority>> {
    const { alarmBook, tests } = this.#parts
    const waiting = new Map(tests.on('board').map((id): [number, Priority] => [id, 'minor']))
    for (const { deviceId, state, alarm } of await alarmBook.standing())
      if (deviceId !== null && state === 'unacknowledged')
        waiting.set(deviceId, higher(waiting.get(deviceId), alarm.priority))
    return waiting
  }

  /** What a board guards by otherwise is made of all its signals: it is made anew only where an alarm came or went. */
  #lookAtChanged(before: ReadonlyMap<number, Priority>): void {
    for (const id of new Set([...before.keys(), ...this.#waiting.keys()])) {
      const device = before.get(id) === this.#waiting.get(id) ? undefined : this.#parts.registry.byId(id)
      if (device) this.#lookAt(device)
    }
  }

  #lookAtAll(): void {
    const seen = new Set<number>()
    for (const device of this.#parts.registry.all()) {
      this.#lookAt(device)
      seen.add(device.id)
    }
    for (const id of [...this.#told.keys()]) if (!seen.has(id)) this.#told.delete(id)
  }

  /** Tells a board by what it guards, where that is otherwise than before. */
  #lookAt(device: RegisteredDevice): void {
    const says = this.#saysOf(device, this.#waiting.get(device.id) ?? null)
    const before = this.#told.get(device.id)
    if (before?.says === says && before?.address === (says && device.address)) return
    // Under the address it had, nothing is guarded by any more.
    if (before && before.address !== device.address) this.#tell({ ...device, address: before.address }, '')
    if (says === undefined) this.#told.delete(device.id)
    else this.#told.set(device.id, { address: device.address, says })
    if (says !== undefined || before) this.#tell(device, says ?? '')
  }

  #tell(device: Parameters<Listener>[0], says: string): void {
    for (const listener of this.#listeners) listener(device, says)
  }

  #saysOf({ signals, isRetired }: RegisteredDevice, alarm: Priority | null): string | undefined {
    if (isRetired) return undefined
    const guarded = Array.from(signals).flatMap((signal) => this.#guardedBy(signal))
    const hasAlarms = Array.from(signals).some(({ definition }) => definition.alarms.length > 0)
    if (guarded.length === 0 && !hasAlarms) return undefined
    return JSON.stringify(boardGuard(guarded, alarm))
  }

  /** Where a formula makes its unit of what is sent, the board cannot compare by itself. */
  #guardedBy({ signal, definition, part, isFormer }: DeviceSignal): GuardedSignal[] {
    const { limits, conversion, origin, state, kind } = definition
    if (isFormer || !limits || kind !== 'number' || state !== 'accepted') return []
    if (conversion !== null || origin === 'derived') return []
    const { registry, now } = this.#parts
    const correction = calibrationAt(registry.calibrations.of(signal), now()) ?? uncorrected
    return [{ name: wireName(fieldOfPart(definition.field, part)), limits, correction }]
  }
}

const uncorrected = { gain: 1, offset: 0 }

const higher = (one: Priority | undefined, other: Priority): Priority =>
  one !== undefined && priorities.indexOf(one) < priorities.indexOf(other) ? one : other
