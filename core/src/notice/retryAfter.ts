const second = 1000
/** After each attempt that failed it is waited so long, ms; after the last one it is given up. */
const waits = [5, 30, 120, 600, 1800, 3600, 3600, 7200, 14_400, 28_800].map((seconds) => seconds * second)

/**
 * How long to wait after an attempt to send that failed.
 * @param attempts how many there were
 * @param chance 0 to 1, spreads what failed together
 * @returns ms; undefined where it is given up
 */
export function retryAfter(attempts: number, chance: number): number | undefined {
  const wait = waits[attempts - 1]
  return wait === undefined ? undefined : Math.round(wait * (1 + chance * 0.2))
}
