/** A number with what it counts, such as "1 message" or "1 200 messages". */
export const counted = (count: number, one: string): string =>
  `${count.toLocaleString('en').replaceAll(',', '\u202f')} ${one}${count === 1 ? '' : 's'}`
