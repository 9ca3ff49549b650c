import type { Device } from '@jaunty-sparrow/contract'

/** When a device that sleeps is awake again, epoch ms; undefined for one that does not. */
export function wakesAt({
  cadence,
  heardAt,
}: Partial<Pick<Device, 'cadence' | 'heardAt'>>): number | undefined {
  const rhythm = cadence?.cadence
  return rhythm?.by === 'sleep' && typeof heardAt === 'number' ? heardAt + rhythm.seconds * 1000 : undefined
}
