import { formatValue } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { max, min } from 'd3-array'
import { TimeAxis, timeAxisHeight } from '../chart/index.ts'
import { choice, defineInstrument, type ShownTotal } from '../instrument/index.ts'

const tall = 120
const left = 44

export const totals = defineInstrument({
  kind: 'totals',
  name: 'Totals',
  purpose: 'What readings come to by the hour, the day or the month of the site.',
  settings: {
    by: choice('By', { hour: 'the hour', day: 'the day', month: 'the month' }, 'day'),
    of: choice(
      'Shown',
      {
        mean: 'the mean',
        highest: 'the highest',
        lowest: 'the lowest',
        increase: 'how much it rose',
        lasted: 'how long it was on, hours',
      },
      'mean',
    ),
  },
  takes: { kinds: ['number', 'switch', 'choice'], most: 1 },
  fit: () => 0.05,
  importance: 'large',
  needs: ({ by, of }) => ({ totals: { by, of } }),
  height: () => tall + timeAxisHeight + 6,
  Drawing: (shown) => {
    const [signal] = shown.signals
    if (!signal) return null
    const told = signal.totals.filter(
      (total): total is ShownTotal & { value: number } => total.value !== null,
    )
    if (told.length === 0)
      return (
        <text y={20} fontSize={13} fill="var(--ink-soft)">
          Nothing has been added up yet.
        </text>
      )
    const from = min(signal.totals, (total) => total.from) ?? 0
    const to = max(signal.totals, (total) => total.to) ?? 1
    const most = Math.max(0, max(told, ({ value }) => value) ?? 0)
    const least = Math.min(0, min(told, ({ value }) => value) ?? 0)
    const x = (at: number) => left + ((at - from) / (to - from)) * (shown.width - left)
    const y = (value: number) => 4 + (1 - (value - least) / (most - least || 1)) * (tall - 4)
    const symbol = shown.settings.of === 'lasted' ? 'h' : signal.unit ? unitSymbol(signal.unit) : ''
    const write = (value: number) => shown.writing.number(formatValue(value, { kind: 'number', choices: [] }))
    return (
      <g>
        {[...new Set([least, most])].map((value) => (
          <text
            key={value}
            x={left - 6}
            y={y(value) + 4}
            textAnchor="end"
            fontSize={11}
            fill="var(--ink-soft)"
          >
            {write(value)}
          </text>
        ))}
        <text
          x={left - 6}
          y={(y(least) + y(most)) / 2 + 4}
          textAnchor="end"
          fontSize={11}
          fill="var(--ink-soft)"
        >
          {symbol}
        </text>
        {told.map((total) => {
          const isOpen = total.to > shown.now
          return (
            <rect
              key={total.from}
              data-total={total.from}
              x={x(total.from) + 1}
              y={Math.min(y(total.value), y(0))}
              width={Math.max(1, x(total.to) - x(total.from) - 2)}
              height={Math.max(0.5, Math.abs(y(total.value) - y(0)))}
              // What goes on is not yet what it will come to.
              fill={isOpen ? 'none' : 'var(--trace)'}
              stroke="var(--trace)"
            >
              <title>{`${write(total.value)} ${symbol}`}</title>
            </rect>
          )
        })}
        <path d={`M${left} ${y(0)}H${shown.width}`} stroke="var(--ink)" />
        <g transform={`translate(0 ${tall})`}>
          <TimeAxis from={from} to={to} timeZone={shown.timeZone} left={left} right={shown.width} />
        </g>
      </g>
    )
  },
})
