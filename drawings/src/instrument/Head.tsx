import { unitSymbol } from '@jaunty-sparrow/core/units'
import type { ReactNode } from 'react'
import { fitText, textWidth } from './fitText.ts'
import { inks } from './inks.ts'
import type { Shown, ShownSignal } from './shown.ts'
import { standingOf } from './standing.ts'
import { writeValue } from './writeValue.ts'

/** Of the digits, px: they are what is looked for. */
export const digitSize = 30
const wordSize = 20
const lineSize = 12.5

/** How high it is, px: the value, and a line of words below. */
export const headHeight = 50

interface HeadProps {
  readonly signal: ShownSignal
  readonly shown: Pick<Shown, 'now' | 'writing' | 'width'>
  /** What is said while nothing asks for a look. */
  readonly rest?: string | undefined
  readonly size?: number
  /** Whether it says below how it stands; else something else is said there. */
  readonly hasWords?: boolean
}

/** The value with its unit, and below how it stands. */
export function Head({
  signal,
  shown: { now, writing, width },
  rest,
  size = digitSize,
  hasWords = true,
}: HeadProps): ReactNode {
  const { tone, words } = standingOf(signal, now, writing)
  const { text, isNumber } = valueWords(signal, writing)
  const digits = isNumber ? size : Math.min(wordSize, size)
  const symbol = isNumber && signal.unit ? unitSymbol(signal.unit) : ''
  const room = width - (symbol === '' ? 0 : textWidth(symbol, 16) + 8)
  // A value is never cut: what is too wide is written smaller.
  const fitted = isNumber ? Math.min(digits, (digits * room) / Math.max(1, textWidth(text, digits))) : digits
  const atRest = [rest, signal.isCalibrated && signal.latest ? 'corrected' : undefined].filter(Boolean)
  const says = (words.length > 0 ? words : atRest).join(' · ')
  return (
    <g>
      <text y={27} fill={inks[tone === 'faint' ? 'faint' : tone]}>
        <tspan data-value={signal.id} fontSize={fitted} fontWeight={600} letterSpacing="-0.01em">
          {isNumber ? text : fitText(text, width, digits)}
        </tspan>
        {symbol !== '' && (
          <tspan dx={5} fontSize={16} fill="var(--ink-soft)">
            {symbol}
          </tspan>
        )}
      </text>
      {hasWords && says !== '' && (
        <text
          y={45}
          fontSize={lineSize}
          fontWeight={tone === 'late' || tone === 'trouble' ? 600 : 400}
          fill={tone === 'rest' ? 'var(--ink-soft)' : inks[tone]}
        >
          {fitText(says, width, lineSize)}
        </text>
      )}
    </g>
  )
}

/** What is said of a signal at its place: its value, the name of its fault, or that there is none. */
export function valueWords(
  signal: ShownSignal,
  writing: Shown['writing'],
): { readonly text: string; readonly isNumber: boolean } {
  const { latest, fault, kind } = signal
  if (kind === 'momentary') return { text: 'to be triggered', isNumber: false }
  if (!latest) return { text: '—', isNumber: false }
  if (fault !== null) return { text: fault, isNumber: false }
  return { text: writeValue(latest.value, signal, writing), isNumber: kind === 'number' }
}
