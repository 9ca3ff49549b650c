import { lateAfter } from '@jaunty-sparrow/core/presence'
import { hasQuality, isVoid, Quality, type Reading } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'

/** What rules need to know of the signals they look at. */
export class RuleInputs {
  readonly #registry: DeviceRegistry

  constructor(registry: DeviceRegistry) {
    this.#registry = registry
  }

  /** How long after it was heard a signal counts, ms; null for as long as one likes. */
  readonly countsFor = (signal: number): number | null => {
    const known = this.#registry.signal(signal)
    const device = known && this.#registry.get(known.address)
    if (!device) return 0
    const own = known.signal.definition.cadence
    return lateAfter(this.#hasOwn(signal) ? own : (this.#registry.cadence(device)?.cadence ?? null))
  }

  /** When a signal was heard: one that speaks only when something happens, or follows from others, as long as its device does. */
  heardAt(signal: number, own: number | null, device: number | null): number | null {
    return this.#hasOwn(signal) ? own : device
  }

  /** What a reading says: as it is corrected; null where the sensor is at fault, or said something that is no number. */
  readonly valueOf = (reading: Reading): number | null => {
    if (isVoid(reading.quality) || hasQuality(reading.quality, Quality.beyondRange)) return null
    const { value } = this.#registry.calibrations.outward(reading)
    return typeof value === 'number' ? value : null
  }

  /** What a signal is called, with its device. */
  nameOf(signal: number): string {
    const known = this.#registry.signal(signal)
    if (!known) return 'a signal that was deleted'
    const { definition, part } = known.signal
    const device = this.#registry.get(known.address)?.name ?? ''
    return `${definition.name}${part === '' ? '' : ` ${part}`} of ${device}`
  }

  #hasOwn(signal: number): boolean {
    const cadence = this.#registry.signal(signal)?.signal.definition.cadence ?? null
    return cadence !== null && cadence.by !== 'event'
  }
}
