import { unitSymbol } from '@jaunty-sparrow/core/units'
import {
  defineInstrument,
  fitText,
  inks,
  numberOf,
  type Shown,
  type ShownSignal,
  standingOf,
  writeValue,
} from '../instrument/index.ts'
import { mixed, shareOf } from './mixed.ts'

const radius = 30
const row = 22
const beside = 2 * radius + 16

export const colour = defineInstrument({
  kind: 'colour',
  name: 'Colour',
  purpose:
    'The light that a red, a green and a blue channel mix: on the left what it is, on the right what it is asked for.',
  settings: {},
  takes: { kinds: ['number'], most: 3 },
  fit: () => 0.01,
  importance: 'normal',
  needs: () => ({ commands: true }),
  height: ({ signals }) => Math.max(2 * radius + 4, signals.length * row + 4),
  Drawing: (shown) => {
    const { signals } = shown
    const now = mixed(signals, numberOf)
    const isAsked = signals.some(({ asked }) => asked !== null)
    const asked = isAsked
      ? mixed(signals, (channel) =>
          typeof channel.asked?.value === 'number' ? channel.asked.value : numberOf(channel),
        )
      : now
    return (
      <g>
        <g transform={`translate(${radius + 1} ${radius + 2})`} data-mixed={now}>
          <path d={`M0 ${-radius}A${radius} ${radius} 0 0 0 0 ${radius}Z`} fill={now ?? 'none'} />
          <path d={`M0 ${-radius}A${radius} ${radius} 0 0 1 0 ${radius}Z`} fill={asked ?? 'none'} />
          <circle
            r={radius}
            fill="none"
            stroke={isAsked ? 'var(--chestnut)' : 'var(--ink)'}
            strokeDasharray={now === undefined ? '2 4' : undefined}
          />
        </g>
        {signals.map((channel, place) => (
          <g key={channel.id} transform={`translate(${beside} ${place * row})`}>
            <Channel channel={channel} shown={{ ...shown, width: shown.width - beside }} />
          </g>
        ))}
      </g>
    )
  },
})

/** One channel: its name and number, and along a line how far it is open, and is asked to be. */
function Channel({ channel, shown }: { readonly channel: ShownSignal; readonly shown: Shown }) {
  const { tone } = standingOf(channel, shown.now, shown.writing)
  const value = numberOf(channel)
  const unit = channel.unit ? ` ${unitSymbol(channel.unit)}` : ''
  const says = channel.latest ? `${writeValue(channel.latest.value, channel, shown.writing)}${unit}` : '—'
  const { asked } = channel
  return (
    <g>
      <text y={13} fontSize={12.5} fill="var(--ink-soft)">
        {fitText(channel.title, shown.width * 0.5, 12.5)}
      </text>
      <text
        x={shown.width}
        y={13}
        fontSize={13}
        fontWeight={600}
        textAnchor="end"
        fill={inks[tone]}
        data-value={channel.id}
      >
        {fitText(channel.fault ?? says, shown.width * 0.5, 13)}
      </text>
      <path d={`M0 18.5H${shown.width}`} stroke="var(--rule)" />
      {value !== undefined && (
        <path
          d={`M0 18.5H${(shareOf(value, channel) * shown.width).toFixed(1)}`}
          stroke="var(--ink)"
          strokeWidth={2}
        />
      )}
      {typeof asked?.value === 'number' && (
        <path
          data-asked-at={asked.value}
          transform={`translate(${(shareOf(asked.value, channel) * shown.width).toFixed(1)} 18.5)`}
          d="M-3 -3H3V3H-3Z"
          fill="var(--paper)"
          stroke="var(--chestnut)"
          strokeWidth={1.5}
        />
      )}
    </g>
  )
}
