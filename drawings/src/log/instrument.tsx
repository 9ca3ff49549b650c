import { unitSymbol } from '@jaunty-sparrow/core/units'
import { choice, defineInstrument, fitText, type Shown, textWidth, writeValue } from '../instrument/index.ts'

const row = 22
const lengths = { five: 5, ten: 10, twenty: 20 } as const

export const log = defineInstrument({
  kind: 'log',
  name: 'Log',
  purpose: 'The latest values as they came, one to a line with its time.',
  settings: {
    length: choice('Lines', { five: 'five', ten: 'ten', twenty: 'twenty' }, 'ten'),
  },
  takes: { kinds: ['number', 'switch', 'choice', 'text', 'position'], most: 8 },
  fit: () => 0.1,
  importance: 'normal',
  needs: ({ length }) => ({ readings: { most: lengths[length] } }),
  height: ({ settings }) => lengths[settings.length] * row + 2,
  Drawing: (shown) => {
    const lines = linesOf(shown, lengths[shown.settings.length])
    if (lines.length === 0)
      return (
        <text y={16} fontSize={13} fill="var(--ink-soft)">
          Values will stand here as they come.
        </text>
      )
    return (
      <g>
        {lines.map(({ at, signal, text, title }, place) => (
          <g key={`${at} ${signal}`} transform={`translate(0 ${place * row})`}>
            <text y={16} fontSize={12} fill="var(--ink-soft)">
              {shown.writing.clock(at)}
            </text>
            {title !== '' && (
              <text x={64} y={16} fontSize={12} fill="var(--ink-soft)">
                {fitText(title, shown.width - 76 - textWidth(text, 14), 12)}
              </text>
            )}
            <text x={shown.width} y={16} fontSize={14} fontWeight={600} textAnchor="end" data-value={signal}>
              {fitText(text, shown.width - 70, 14)}
            </text>
          </g>
        ))}
      </g>
    )
  },
})

interface Line {
  readonly at: number
  readonly signal: number
  readonly title: string
  readonly text: string
}

/** What came last, the newest first. */
function linesOf({ signals, writing }: Shown, most: number): Line[] {
  return signals
    .flatMap((signal): Line[] => {
      const write = (value: Parameters<typeof writeValue>[0]) =>
        `${writeValue(value, signal, writing)}${signal.unit ? ` ${unitSymbol(signal.unit)}` : ''}`
      const said = { signal: signal.id, title: signals.length > 1 ? signal.title : '' }
      return signal.readings.map(({ at, value, fault }) => ({ ...said, at, text: fault ?? write(value) }))
    })
    .sort((one, other) => other.at - one.at)
    .slice(0, most)
}
