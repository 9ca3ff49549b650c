import { fieldOfPart, hasParts, mostParts, partIn } from './parts.ts'
import type { DeviceSignal, SignalDefinition } from './signal.ts'

/** A part that a message speaks of and that has no signal yet. */
export interface NewPart {
  readonly definition: SignalDefinition
  readonly part: string
  /** Whether the device has as many as it may already. */
  readonly isOneTooMany: boolean
}

const none: readonly DeviceSignal[] = []

/** The signals of one device, by the field each is read from; several may read one. */
export class SignalMap implements Iterable<DeviceSignal> {
  readonly #all: readonly DeviceSignal[]
  readonly #byField = new Map<string, DeviceSignal[]>()
  readonly #ofParts: readonly SignalDefinition[]
  readonly #parts = new Map<number, number>()

  /** The constants that conversions may name, as the kit or the device states them. */
  readonly constants: Readonly<Record<string, number>>

  /** @param ofParts the kit's definitions that stand for like parts */
  constructor(
    signals: readonly DeviceSignal[],
    ofParts: readonly SignalDefinition[] = [],
    constants: Readonly<Record<string, number>> = {},
  ) {
    this.constants = constants
    this.#all = signals
    this.#ofParts = ofParts
    for (const signal of signals) {
      const { definition, part } = signal
      // It is read from no field, or not any more: whoever sends one called so means something else.
      if (definition.origin === 'derived' || signal.isFormer) continue
      if (part !== '') this.#parts.set(definition.id, (this.#parts.get(definition.id) ?? 0) + 1)
      const field = hasParts(definition.field) ? fieldOfPart(definition.field, part) : definition.field
      const there = this.#byField.get(field)
      if (there) there.push(signal)
      else this.#byField.set(field, [signal])
    }
  }

  get size(): number {
    return this.#all.length
  }

  [Symbol.iterator](): Iterator<DeviceSignal> {
    return this.#all[Symbol.iterator]()
  }

  /** The signals that are read from a field. */
  of(field: string): readonly DeviceSignal[] {
    return this.#byField.get(field) ?? none
  }

  /** The part a field is of that nobody has heard of yet. */
  newPart(field: string): NewPart | undefined {
    for (const definition of this.#ofParts) {
      const part = partIn(definition.field, field)
      if (part === undefined) continue
      return { definition, part, isOneTooMany: (this.#parts.get(definition.id) ?? 0) >= mostParts }
    }
    return undefined
  }
}
