import { ProblemError } from '../doors/problemResponse.ts'
import type { DeviceRegistry, RegisteredDevice } from '../ingest/deviceRegistry.ts'

/** The device a route names. @throws ProblemError when there is none */
export function knownDevice(registry: DeviceRegistry, address: string): RegisteredDevice {
  const device = registry.get(address)
  if (!device) throw new ProblemError('not-found', `No device has the address "${address}".`)
  return device
}
