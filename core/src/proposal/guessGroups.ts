import { signalName } from '../signal/signalName.ts'

/** Names of fields that are parts of one thing: axes, and channels of a colour. */
const together: readonly (readonly string[])[] = [
  ['x', 'y', 'z'],
  ['r', 'g', 'b'],
  ['red', 'green', 'blue'],
]

/** The end of a field's name that may be one of several: after a slash, a sign or in capitals of its own. */
const ended = /^(.*?[/_-]?)(x|y|z|r|g|b|red|green|blue)$/i

/**
 * Finds the fields that belong together, as the three axes of one sensor.
 * @param pointers JSON Pointers of all that may belong together
 * @returns the name of the group by pointer; what stands alone is left out
 */
export function guessGroups(pointers: readonly string[]): ReadonlyMap<string, string> {
  const byStem = new Map<string, Map<string, string>>()
  for (const pointer of pointers) {
    const [, stem, end] = ended.exec(pointer) ?? []
    if (stem === undefined || end === undefined) continue
    const ends = byStem.get(stem) ?? new Map<string, string>()
    byStem.set(stem, ends.set(end.toLowerCase(), pointer))
  }
  const groups = new Map<string, string>()
  for (const [stem, ends] of byStem) {
    const whole = together.find((names) => names.every((name) => ends.has(name)))
    // Without a name of their own they are what their numbers are: axes, or a colour.
    const name = /[^/_-]/.test(stem)
      ? signalName(stem.replace(/[/_-]$/, ''))
      : whole?.[0] === 'x'
        ? 'Axes'
        : 'Colour'
    for (const end of whole ?? []) groups.set(ends.get(end) ?? '', name)
  }
  return groups
}
