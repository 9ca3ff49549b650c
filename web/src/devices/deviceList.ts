import type { Changed, Device } from '@jaunty-sparrow/contract'

/** More devices than this are asked for together. */
const mostOneByOne = 10

/** The addresses of the devices that a change reaches, or that it may reach all of them. */
export function changedDevices(
  changes: readonly Changed[],
  devices: readonly Pick<Device, 'address' | 'kit'>[],
): readonly string[] | 'all' {
  const addresses = new Set<string>()
  for (const change of changes) {
    if (change.what === 'devices') return 'all'
    if (change.what === 'device') addresses.add(change.address)
    if (change.what === 'kit')
      for (const { address, kit } of devices) if (kit.id === change.kitId) addresses.add(address)
  }
  return addresses.size > mostOneByOne ? 'all' : [...addresses]
}

/** Whether an answer said that there is no such thing any more. */
export const isGone = (error: unknown): boolean =>
  typeof error === 'object' && error !== null && 'status' in error && error.status === 404

/** Puts a device that was asked for again into the list, in the order of names; null where it is gone, undefined where nobody knows. */
export function replaceDevice(devices: Device[], address: string, device: Device | null | undefined): void {
  if (device === undefined) return
  const index = devices.findIndex((each) => each.address === address)
  if (index >= 0) devices.splice(index, 1)
  if (device === null) return
  const name = device.name.toLowerCase()
  const place = devices.findIndex((other) => other.name.toLowerCase() > name)
  devices.splice(place < 0 ? devices.length : place, 0, device)
}
