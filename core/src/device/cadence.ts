/** How many arrivals are remembered to learn a cadence from. */
export const arrivalsToLearnFrom = 16

/**
 * Learns how often a device speaks: the median gap between its last arrivals, which one drop-out does not move.
 * @param arrivals instants in epoch ms, oldest first
 * @returns seconds, or null while there are fewer than three gaps
 */
export function learnCadence(arrivals: readonly number[]): number | null {
  if (arrivals.length < 4) return null
  const gaps = arrivals.slice(1).map((at, i) => at - (arrivals[i] as number))
  gaps.sort((a, b) => a - b)
  return (gaps[Math.floor(gaps.length / 2)] as number) / 1000
}
