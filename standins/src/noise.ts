/** A whole-number hash (after Wang's 32-bit mix): the same seed and place give the same number everywhere. */
function mix(seed: number, place: number): number {
  let x = (seed ^ Math.imul(place | 0, 0x9e3779b1)) >>> 0
  x = Math.imul(x ^ (x >>> 16), 0x21f0aaad)
  x = Math.imul(x ^ (x >>> 15), 0x735a2d97)
  return (x ^ (x >>> 15)) >>> 0
}

/** White noise in -1..1, settled by seed and place. */
export const roll = (seed: number, place: number): number => mix(seed, Math.floor(place)) / 0x7fffffff - 1

/**
 * Smooth noise in about -1..1: values at whole multiples of `period`, joined by a curve without corners.
 * @param at epoch ms
 * @param period ms
 */
export function drift(seed: number, at: number, period: number): number {
  const place = at / period
  const before = Math.floor(place)
  const part = place - before
  const ease = part * part * (3 - 2 * part)
  return roll(seed, before) * (1 - ease) + roll(seed, before + 1) * ease
}

/** A number from text, to give each signal a seed of its own. */
export const seedOf = (text: string): number =>
  [...text].reduce((seed, letter) => mix(seed, letter.codePointAt(0) ?? 0), 7)
