import type { SignalSettings } from './signal.ts'

/** How far apart stored readings may lie, seconds, with nothing missing between them. */
export function storedEvery(
  { storing }: Pick<SignalSettings, 'storing'>,
  cadence: number | null,
): number | null {
  if (storing.by === 'every' || cadence === null) return cadence
  return Math.max(cadence, storing.by === 'change' ? storing.heartbeat : storing.seconds)
}

/** Seconds between two times something is said; null for what speaks when it happens, or where nobody knows. */
export const secondsOf = (cadence: SignalSettings['cadence']): number | null =>
  cadence === null || cadence.by === 'event' ? null : cadence.seconds
