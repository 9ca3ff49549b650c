import { unitSymbol } from '@jaunty-sparrow/core/units'
import {
  defineInstrument,
  fitText,
  Head,
  headHeight,
  type Shown,
  type ShownSignal,
  writeValue,
} from '../instrument/index.ts'
import { AskedTab, ruled, Scale, scaleHeight } from '../scale/index.ts'

const widest = 420
const roomForLabel = 56
const wordsHeight = 20
/** Below the line of a scale, px: room for the tab. */
const tabHeight = 8

export const control = defineInstrument({
  kind: 'control',
  name: 'Control',
  purpose:
    'What something that can be switched or set is, and what it was asked for; they differ until the device says so.',
  settings: {},
  takes: { kinds: ['switch', 'choice', 'number', 'momentary', 'text'], most: 1 },
  fit: ({ origin }) => (origin === 'controlled' ? 0.9 : 0),
  importance: 'normal',
  needs: () => ({ span: 'hour', commands: true }),
  height: ({ signals: [signal] }) =>
    headHeight + wordsHeight + (isRuled(signal) ? scaleHeight + tabHeight : 0),
  Drawing: (shown) => {
    const [signal] = shown.signals
    if (!signal) return null
    const width = Math.min(widest, shown.width)
    const drawn = isRuled(signal)
      ? ruled(signal, { ...shown, width }, Math.floor(width / roomForLabel))
      : undefined
    const { asked } = signal
    return (
      <g>
        <Head signal={signal} shown={shown} />
        {drawn && (
          <g transform={`translate(0 ${headHeight})`}>
            <Scale {...drawn} span={undefined} before={undefined} />
            {typeof asked?.value === 'number' && <AskedTab {...drawn} value={asked.value} />}
          </g>
        )}
        {asked && (
          <text
            data-asked={signal.id}
            y={headHeight + (drawn ? scaleHeight + tabHeight : 0) + 13}
            fontSize={12.5}
            fontWeight={600}
            fill="var(--chestnut)"
          >
            {fitText(askedWords(signal, asked, shown), shown.width, 12.5)}
          </text>
        )}
      </g>
    )
  },
})

const isRuled = (signal: ShownSignal | undefined): boolean => signal?.kind === 'number'

/** What it was asked for, and whether the device was told. */
function askedWords(
  signal: ShownSignal,
  { value, state }: NonNullable<ShownSignal['asked']>,
  { writing }: Pick<Shown, 'writing'>,
): string {
  const way = state === 'sent' ? ', sent' : ', waits to be sent'
  if (signal.kind === 'momentary') return `asked for${way}`
  const unit = signal.kind === 'number' && signal.unit ? ` ${unitSymbol(signal.unit)}` : ''
  return `asked for ${writeValue(value, signal, writing)}${unit}${way}`
}
