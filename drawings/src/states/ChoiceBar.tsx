import type { ReactNode } from 'react'
import { fitText, textWidth } from '../instrument/index.ts'
import type { ChoiceSpan } from './choiceSpans.ts'
import { stateBarHeight } from './StateBar.tsx'

export interface ChoiceBarProps {
  readonly spans: readonly ChoiceSpan[]
  readonly nameOf: (value: number) => string
  /** What is drawn, epoch ms. */
  readonly from: number
  readonly to: number
  /** px */
  readonly width: number
}

/** Shorter than this no name stands in a state, px. */
const roomForName = 22

/** Which of several states something was in: each span with its name, set apart by posts. */
export const ChoiceBar = ({ spans, nameOf, from, to, width }: ChoiceBarProps): ReactNode => {
  const x = (at: number) => ((Math.min(to, Math.max(from, at)) - from) / (to - from)) * width
  return (
    <g>
      <path d={`M0 ${stateBarHeight - 1}H${width}`} stroke="var(--rule-strong)" />
      {spans
        .filter((span) => span.to > from && span.from < to)
        .map((span) => {
          const [left, right] = [x(span.from), x(span.to)]
          const name = nameOf(span.value)
          return (
            <g key={span.from} data-state={span.value}>
              <path d={`M${left.toFixed(1)} 1V${stateBarHeight - 1}`} stroke="var(--ink)" />
              <path
                d={`M${left.toFixed(1)} ${stateBarHeight - 2}H${right.toFixed(1)}`}
                stroke="var(--ink)"
                strokeWidth={2}
              />
              {right - left > roomForName && textWidth(name.slice(0, 2), 11) < right - left && (
                <text x={left + 4} y={11} fontSize={11} fill="var(--ink)">
                  {fitText(name, right - left - 6, 11)}
                </text>
              )}
            </g>
          )
        })}
    </g>
  )
}
