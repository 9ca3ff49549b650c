import { unitSymbol } from '@jaunty-sparrow/core/units'
import {
  defineInstrument,
  fitText,
  flag,
  inks,
  type Shown,
  type ShownSignal,
  spanSetting,
  standingOf,
  textWidth,
  valueWords,
} from '../instrument/index.ts'
import { Spark } from '../value/index.ts'

const row = 34

export const table = defineInstrument({
  kind: 'table',
  name: 'Table',
  purpose: 'Many signals, one to a line, each with its value and the line of its course.',
  settings: {
    span: spanSetting('hour'),
    device: flag('Name the device of each', true),
  },
  takes: { kinds: ['number', 'switch', 'choice', 'text', 'position', 'momentary'], most: 40 },
  fit: () => 0.1,
  importance: 'large',
  needs: ({ span }) => ({ span }),
  height: ({ signals }) => signals.length * row + 2,
  Drawing: (shown) => (
    <g>
      {shown.signals.map((signal, place) => (
        <g key={signal.id} transform={`translate(0 ${place * row})`}>
          <Row signal={signal} shown={shown} namesDevice={shown.settings.device} />
        </g>
      ))}
    </g>
  ),
})

function Row({
  signal,
  shown,
  namesDevice,
}: {
  readonly signal: ShownSignal
  readonly shown: Shown
  readonly namesDevice: boolean
}) {
  const { width, writing, now, stretch } = shown
  const { tone, words } = standingOf(signal, now, writing)
  const { text, isNumber } = valueWords(signal, writing)
  const symbol = isNumber && signal.unit ? unitSymbol(signal.unit) : ''
  const unitWidth = 44
  const spark = width > 360 ? Math.min(140, width * 0.25) : 0
  const right = width - spark - (spark > 0 ? 16 : 0)
  const title = namesDevice ? `${signal.device} · ${signal.title}` : signal.title
  const value = fitText(text, right * 0.5, 16)
  const room = right - unitWidth - textWidth(value, 16) - 12
  return (
    <g>
      <path d={`M0 ${row - 0.5}H${width}`} stroke="var(--rule)" />
      <text y={words.length > 0 ? 14 : 20} fontSize={13} fill="var(--ink)">
        {fitText(title, room, 13)}
      </text>
      {words.length > 0 && (
        <text y={27} fontSize={11.5} fontWeight={600} fill={inks[tone]}>
          {fitText(words.join(' · '), room, 11.5)}
        </text>
      )}
      <text
        x={right - unitWidth}
        y={22}
        textAnchor="end"
        fontSize={16}
        fontWeight={600}
        fill={inks[tone]}
        data-value={signal.id}
      >
        {value}
      </text>
      <text x={right - unitWidth + 5} y={22} fontSize={12} fill="var(--ink-soft)">
        {fitText(symbol, unitWidth - 5, 12)}
      </text>
      {spark > 0 && (
        <g transform={`translate(${width - spark} 5)`}>
          <Spark
            trace={signal.trace}
            isStepped={signal.kind !== 'number'}
            {...stretch}
            width={spark}
            height={row - 10}
          />
        </g>
      )}
    </g>
  )
}
