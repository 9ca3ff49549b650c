/** How wide letters are in the typeface of the instruments, in em; measured of its regular weight, the others are near enough. */
const narrow = 0.28
const usual = 0.54
const wide = 0.82

const widthOf = (letter: string): number =>
  /[ .,:;'|!iljtfr()·]/.test(letter) ? narrow : /[mwMW@%—]/.test(letter) ? wide : usual

/** About how wide a text is, px. @param size of its letters, px */
export const textWidth = (text: string, size: number): number =>
  [...text].reduce((sum, letter) => sum + widthOf(letter), 0) * size

/** A text as far as there is room for it; what is cut off is told by three dots. */
export function fitText(text: string, width: number, size: number): string {
  if (textWidth(text, size) <= width) return text
  const letters = [...text]
  let left = width - usual * size
  let kept = 0
  for (const letter of letters) {
    left -= widthOf(letter) * size
    if (left < 0) break
    kept++
  }
  return `${letters.slice(0, kept).join('').trimEnd()}…`
}
