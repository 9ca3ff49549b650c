import type { Device, StandingAlarm } from '@jaunty-sparrow/contract'

/** So far around the moment is looked at, ms. */
const around = 1_800_000

/** Where the moment is seen at which an alarm was raised; undefined where there is none. */
export function momentLink(
  { raisedAt }: Pick<StandingAlarm, 'raisedAt'>,
  device: Pick<Device, 'address'> | undefined,
): string | undefined {
  if (raisedAt === null || !device) return undefined
  const from = Math.round(raisedAt - around)
  return `/devices/${device.address}?from=${from}&to=${from + 2 * around}`
}
