/** How the signal of a term has to stand to its bound. */
export const comparisons = ['<', '>', '==', '!='] as const
export type Comparison = (typeof comparisons)[number]

/** One of the things that have to be the case: a signal against a number. */
export interface PickedTerm {
  /** What the formula calls the signal. */
  readonly name: string
  readonly is: Comparison
  readonly bound: number
}

/** What is picked: all of it has to be the case, or any. */
export interface PickedTerms {
  readonly join: '&&' | '||'
  readonly terms: readonly PickedTerm[]
}

const number = String.raw`-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?`
const term = new RegExp(`^ *([A-Za-z_][A-Za-z0-9_]*) *(<|>|==|!=) *(${number}) *$`)

/** Writes what is picked as a formula. */
export const formulaOf = ({ join, terms }: PickedTerms): string =>
  terms.map(({ name, is, bound }) => `${name} ${is} ${bound}`).join(` ${join} `)

/** Reads a formula as what could be picked; undefined where it says more than that. */
export function pickedTerms(formula: string): PickedTerms | undefined {
  const join = formula.includes('||') ? '||' : '&&'
  const terms: PickedTerm[] = []
  for (const part of formula.split(join)) {
    const [, name, is, bound] = term.exec(part) ?? []
    if (name === undefined) return undefined
    terms.push({ name, is: is as Comparison, bound: Number(bound) })
  }
  return { join, terms }
}
