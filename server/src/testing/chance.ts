/** Chance that comes out the same each time, so that what fails can be looked at (a linear congruential generator). */
export function chanceFrom(seed: number): () => number {
  let state = seed
  return () => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648
    return state / 2_147_483_648
  }
}
