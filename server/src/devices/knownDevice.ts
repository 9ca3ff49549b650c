import { ProblemError } from '../http/problemResponse.ts'
import type { DeviceRegistry } from './deviceRegistry.ts'
import type { RegisteredDevice } from './registeredDevice.ts'

/** The device a route names. @throws ProblemError when there is none */
export function knownDevice(registry: DeviceRegistry, address: string): RegisteredDevice {
  const device = registry.get(address)
  if (!device) throw new ProblemError('not-found', `No device has the address "${address}".`)
  return device
}
