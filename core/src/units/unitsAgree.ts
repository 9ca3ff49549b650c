import { annotation } from './unitSymbol.ts'

const bare = (code: string): string => code.replaceAll(annotation, '')

/** Whether values in one unit may stand under the other: a code that says more of the same unit agrees with one that does not. */
export const unitsAgree = (one: string, other: string): boolean =>
  one === other || (bare(one) === bare(other) && (bare(one) === one || bare(other) === other))
