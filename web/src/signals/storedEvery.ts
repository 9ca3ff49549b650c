import type { Signal } from '@jaunty-sparrow/contract'

/** How far apart stored readings may lie, seconds, with nothing missing between them. */
export function storedEvery({ keep }: Pick<Signal, 'keep'>, cadence: number | null): number | null {
  if (keep.by === 'every' || cadence === null) return cadence
  return Math.max(cadence, keep.by === 'change' ? keep.heartbeat : keep.seconds)
}
