import type { Cadence } from '../signal/signal.ts'

/** How well a device or a signal keeps to what is expected of it. */
export const presences = ['on-time', 'late', 'silent', 'asleep', 'never', 'retired', 'down'] as const
export type Presence = (typeof presences)[number]

/** Missed turns, and seconds of grace for the way here, after which something is late, and after which it is silent. */
const late = { turns: 2, grace: 3 }
const silent = { turns: 5, grace: 30 }

/** One that sleeps is awake for so long after it was heard, ms. */
const awakeFor = 5000

/**
 * Judges presence.
 * @param heardAt when it was heard last, epoch ms; null for never
 * @param cadence stated or learned; null while nobody knows, then nothing is late
 */
export function presenceOf(heardAt: number | null, now: number, cadence: Cadence | null): Presence {
  if (heardAt === null) return 'never'
  if (cadence === null || cadence.by === 'event') return 'on-time'
  const age = now - heardAt
  if (age > after(silent, cadence.seconds)) return 'silent'
  if (age > after(late, cadence.seconds)) return 'late'
  return cadence.by === 'sleep' && age > awakeFor ? 'asleep' : 'on-time'
}

/** When something that is heard no more falls silent, epoch ms; null when it never does. */
export const silentFrom = (heardAt: number, cadence: Cadence | null): number | null =>
  cadence === null || cadence.by === 'event' ? null : heardAt + after(silent, cadence.seconds)

/** So long, ms, after it was heard something is not late yet; null when it never is. */
export const lateAfter = (cadence: Cadence | null): number | null =>
  cadence === null || cadence.by === 'event' ? null : after(late, cadence.seconds)

const after = ({ turns, grace }: typeof late, seconds: number): number => (seconds * turns + grace) * 1000

/**
 * Judges a signal: what it does by itself, as far as its device is there at all; one that says something only when something
 * happens is there as long as its device is.
 * @param device how its device does
 * @param own what is stated for the signal, else what holds for its device
 */
export function signalPresence(
  device: Presence,
  heardAt: number | null,
  now: number,
  own: Cadence | null,
): Presence {
  if (heardAt === null) return 'never'
  if (own === null || own.by === 'event') return device
  return presenceOf(heardAt, now, own)
}
