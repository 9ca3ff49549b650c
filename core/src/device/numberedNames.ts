/** So many names are made of one pattern at most. */
const mostNames = 100

/**
 * Makes names of a pattern: `Cave {1..10}` becomes ten of them, `Cave {01..10}` with zeros before; what has no braces is one.
 * @returns undefined where the pattern cannot be read, or makes more than a hundred
 */
export function numberedNames(pattern: string): readonly string[] | undefined {
  const [whole, first = '', last = ''] = /\{(\d{1,4})\.\.(\d{1,4})\}/.exec(pattern) ?? []
  if (whole === undefined) return /[{}]/.test(pattern) ? undefined : [pattern]
  const [from, to] = [Number(first), Number(last)]
  if (to < from || to - from >= mostNames) return undefined
  const digits = first.startsWith('0') ? first.length : 1
  return Array.from({ length: to - from + 1 }, (_, step) =>
    pattern.replace(whole, String(from + step).padStart(digits, '0')),
  )
}
