/** Longer codes are no units. */
export const longestUnit = 40
