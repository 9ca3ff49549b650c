import type { Device, Signal } from '@jaunty-sparrow/contract'

/** The signals of a device that it has now, and that a person accepted. */
export const inUse = ({ signals }: Pick<Device, 'signals'>): Signal[] =>
  signals.filter(({ state, isFormer }) => state === 'accepted' && !isFormer)
