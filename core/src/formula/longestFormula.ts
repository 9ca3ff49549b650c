/** Longer formulas are refused, characters. */
export const longestFormula = 500
