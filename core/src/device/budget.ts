/** What a fleet of like devices sends. */
export interface Fleet {
  readonly devices: number
  readonly signals: number
  /** Seconds between readings of a signal. */
  readonly cadence: number
}

/** What a fleet costs. */
export interface Budget {
  readonly readingsPerSecond: number
  readonly rowsPerDay: number
  readonly bytesPerYear: number
  /** Of what the server can store, 0..1 and beyond. */
  readonly share: number
}

/**
 * @param bytesPerReading what one reading takes on the disk, with its index
 * @param ceiling how many readings a second the server was measured to store
 */
export function budgetOf(
  { devices, signals, cadence }: Fleet,
  bytesPerReading: number,
  ceiling: number,
): Budget {
  const readingsPerSecond = (devices * signals) / cadence
  const rowsPerDay = readingsPerSecond * 86_400
  return {
    readingsPerSecond,
    rowsPerDay,
    bytesPerYear: rowsPerDay * 365.25 * bytesPerReading,
    share: readingsPerSecond / ceiling,
  }
}
