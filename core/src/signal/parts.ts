import { pointerSegment, pointerSegments } from '../message/field.ts'

/** What stands in a field for the part it is of. */
const placeholder = '{part}'
const placeholderSegment = pointerSegment(placeholder)

/** What stands for a field where a signal is derived for each of like parts. */
export const fieldOfDerivedParts = `/${placeholder}`

/** How many like parts of one definition a device may have. */
export const mostParts = 64

/** Whether one definition stands for several like parts. */
export const hasParts = (field: string): boolean =>
  field.includes(placeholderSegment) && partIndex(field) >= 0

const partIndex = (field: string): number => pointerSegments(field).indexOf(placeholder)

/** The field of one part. */
export const fieldOfPart = (field: string, part: string): string => {
  const index = partIndex(field)
  return pointerSegments(field)
    .map((segment, at) => pointerSegment(at === index ? part : segment))
    .join('')
}

/** Which part a field is of, by the definition that stands for all of them; undefined when it is of none. */
export function partIn(field: string, pointer: string): string | undefined {
  const wanted = pointerSegments(field)
  const segments = pointerSegments(pointer)
  if (segments.length !== wanted.length) return undefined
  const index = wanted.indexOf(placeholder)
  return wanted.every((segment, at) => at === index || segment === segments[at]) ? segments[index] : undefined
}
