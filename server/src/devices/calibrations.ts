import { type Calibration, calibrate } from '@jaunty-sparrow/core/calibration'
import { hasQuality, Quality, type Reading } from '@jaunty-sparrow/core/signal'
import { isNull } from 'drizzle-orm'
import type { Database } from '../store/database.ts'
import { calibration } from '../store/schema.ts'

/** The corrections of all signals, in memory. */
export class Calibrations {
  readonly #database: Database
  #bySignal: ReadonlyMap<number, readonly Calibration[]> = new Map()

  constructor(database: Database) {
    this.#database = database
  }

  async load(): Promise<void> {
    const rows = await this.#database.select().from(calibration).where(isNull(calibration.takenBackAt))
    const found = new Map<number, Calibration[]>()
    for (const { signalId, gain, offset, validFrom } of rows)
      found.set(signalId, [...(found.get(signalId) ?? []), { gain, offset, validFrom: validFrom.getTime() }])
    this.#bySignal = found
  }

  /** The corrections that hold for a signal. */
  of(signal: number): readonly Calibration[] {
    return this.#bySignal.get(signal) ?? none
  }

  /** A reading as it goes out: corrected by what holds for its instant. */
  readonly outward = (reading: Reading): Reading => {
    const calibrations = this.#bySignal.get(reading.signal)
    // What means a fault is no measurement.
    const isMeasured = !hasQuality(reading.quality, Quality.atFault)
    return calibrations && isMeasured
      ? { ...reading, value: calibrate(calibrations, reading.at, reading.value) }
      : reading
  }
}

const none: readonly Calibration[] = []
