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

/** Told what a board guards by, when that is otherwise than it was; empty where it guards by nothing any more. */
type Listener = (device: Pick<RegisteredDevice, 'id' | 'address'>, says: string) => void

/** Knows by what each board guards: the limits of its signals in what it sends, and whether an alarm of it waits for a word. */
export class BoardGuards {
  readonly #parts: BoardGuardsParts
  readonly #told = new Map<number, { readonly address: string; readonly says: string }>()
  readonly #listeners: Listener[] = []
  #isStale = true

  constructor(parts: BoardGuardsParts) {
    this.#parts = parts
    parts.registry.onChange(() => this.mark())
  }

  onChanged(listener: Listener): void {
    this.#listeners.push(listener)
    for (const [id, { address, says }] of this.#told) listener({ id, address }, says)
  }

  /** Something may be otherwise: it is looked at when there is time. */
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

  /** Looks who guards by something else than before, and tells. */
  async look(): Promise<void> {
    if (!this.#isStale) return
    this.#isStale = false
    const { registry, alarmBook, tests } = this.#parts
    const waiting = new Map(tests.on('board').map((id): [number, Priority] => [id, 'minor']))
    for (const { deviceId, state, alarm } of await alarmBook.standing())
      if (deviceId !== null && state === 'unacknowledged')
        waiting.set(deviceId, higher(waiting.get(deviceId), alarm.priority))
    const seen = new Set<number>()
    for (const device of registry.all()) {
      const says = this.#saysOf(device, waiting.get(device.id) ?? null)
      if (says !== undefined) seen.add(device.id)
      const before = this.#told.get(device.id)
      if (before?.says === says && before?.address === (says && device.address)) continue
      // Under the address it had, nothing is guarded by any more.
      if (before && before.address !== device.address) this.#tell({ ...device, address: before.address }, '')
      if (says === undefined) this.#told.delete(device.id)
      else this.#told.set(device.id, { address: device.address, says })
      if (says !== undefined || before) this.#tell(device, says ?? '')
    }
    for (const id of [...this.#told.keys()]) if (!seen.has(id)) this.#told.delete(id)
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
