import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { AskedSignal } from './historyReader.ts'

/** What is to be known of a signal to read what was; one that nobody knows has no history. */
export const askedSignal = (registry: DeviceRegistry, signal: number): AskedSignal => ({
  signal,
  calibrations: registry.calibrations.of(signal),
  kind: registry.signal(signal)?.signal.definition.kind ?? 'number',
})
