import { formatValue } from '@jaunty-sparrow/core/signal'
import { TimeAxis, timeAxisHeight } from '../chart/index.ts'
import { defineInstrument, fitText, Head, headHeight, spanSetting } from '../instrument/index.ts'
import { Bar } from './Bar.tsx'
import { stateBarHeight } from './StateBar.tsx'
import { sinceWords } from './sinceWords.ts'

const row = stateBarHeight + 22

export const states = defineInstrument({
  kind: 'states',
  name: 'State bars',
  purpose: 'When switches were on, and which state something was in, over time.',
  settings: { span: spanSetting('hour') },
  takes: { kinds: ['switch', 'choice'], most: 8 },
  fit: ({ kind }) => (kind === 'switch' || kind === 'choice' ? 0.6 : 0),
  importance: 'normal',
  needs: ({ span }) => ({ span }),
  height: ({ signals }) =>
    signals.length === 1 ? headHeight + stateBarHeight : signals.length * row + timeAxisHeight,
  Drawing: (shown) => {
    const [only, ...more] = shown.signals
    if (!only) return null
    if (more.length === 0)
      return (
        <g>
          <Head signal={only} shown={shown} rest={sinceWords(only, shown)} />
          <g transform={`translate(0 ${headHeight})`}>
            <Bar signal={only} {...shown} width={Math.min(420, shown.width)} />
          </g>
        </g>
      )
    const { from, to } = shown.stretch
    return (
      <g>
        {shown.signals.map((signal, place) => (
          <g key={signal.id} transform={`translate(0 ${place * row})`}>
            <text y={13} fontSize={13} fill="var(--ink-soft)">
              {fitText(signal.title, shown.width - 60, 13)}
            </text>
            <text
              x={shown.width}
              y={13}
              fontSize={13}
              fontWeight={600}
              textAnchor="end"
              data-value={signal.id}
            >
              {signal.latest && signal.fault === null
                ? formatValue(signal.latest.value, signal)
                : (signal.fault ?? '—')}
            </text>
            <g transform="translate(0 18)">
              <Bar signal={signal} {...shown} />
            </g>
          </g>
        ))}
        <g transform={`translate(0 ${shown.signals.length * row})`}>
          <TimeAxis from={from} to={to} timeZone={shown.timeZone} left={0} right={shown.width} />
        </g>
      </g>
    )
  },
})
