import type { Trace } from '@jaunty-sparrow/contract'
import { pickedTerms, type Rule } from '@jaunty-sparrow/core/rule'
import { gapOf, storedEvery } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import type { TrialRow } from '@jaunty-sparrow/drawings/trial'
import { extent } from 'd3-array'
import type { NameOf } from '../../rules/ruleWords.ts'

/** A bound that can be dragged: which term of which condition it is. */
export interface DraggedBound {
  readonly of: 'when' | 'until'
  readonly term: number
}

export const boundId = ({ of, term }: DraggedBound): string => `${of} ${term}`

/** Bounds lie within the picture, with some room to drag them, as part of what is seen. */
const room = 0.12

/** What the inputs of a rule said, each with the bounds it is held against. */
export function trialRows(rule: Rule, traces: readonly Trace[], nameOf: NameOf): TrialRow[] {
  return rule.inputs.flatMap((input): TrialRow[] => {
    const found = nameOf(input.signal)
    const trace = traces.find(({ signal }) => signal === input.signal)
    if (!found) return []
    const { signal } = found
    const points = trace ? [trace.before, ...trace.points, trace.after].filter((point) => point !== null) : []
    const isSwitch = signal.kind !== 'number'
    const bounds = isSwitch ? [] : boundsOf(rule, input.name)
    const [low = 0, high = 1] = extent([
      ...points.map(([, value]) => value),
      ...bounds.map(({ value }) => value),
    ])
    const around = (high - low || Math.abs(high) || 1) * room
    const name = signal.unit && !isSwitch ? `${found.name}, ${unitSymbol(signal.unit)}` : found.name
    return [
      {
        name,
        points,
        isSwitch,
        gap: Math.max(gapOf(storedEvery(signal, null)), trace?.width ?? 0),
        low: isSwitch ? 0 : low - around,
        high: isSwitch ? Math.max(1, high) : high + around,
        bounds,
      },
    ]
  })
}

const boundsOf = (rule: Rule, name: string): TrialRow['bounds'] =>
  (['when', 'until'] as const).flatMap((of) => {
    const terms = (rule[of] && pickedTerms(rule[of].formula)?.terms) ?? []
    return terms.flatMap((term, place) =>
      term.name === name && (term.is === '<' || term.is === '>')
        ? [
            {
              id: boundId({ of, term: place }),
              value: term.bound,
              side: term.is === '<' ? ('below' as const) : ('above' as const),
            },
          ]
        : [],
    )
  })

/** A bound as fine as it can be dragged: a step that is a pixel or so, rounded to what is easily said. */
export function niceStep(low: number, high: number): number {
  const rough = (high - low) / 100
  const tens = 10 ** Math.floor(Math.log10(rough))
  return [1, 2, 5, 10].map((times) => times * tens).find((step) => step >= rough) ?? tens
}
