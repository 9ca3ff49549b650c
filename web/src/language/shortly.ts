/** A number in no more digits than tell something. */
export const shortly = (value: number): string => String(Number(value.toPrecision(6)))
