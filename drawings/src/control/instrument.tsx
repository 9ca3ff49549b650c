import { unitSymbol } from '@jaunty-sparrow/core/units'
import {
  defineInstrument,
  fitText,
  Head,
  headHeight,
  type Shown,
  type ShownSignal,
  spanSetting,
  standingOf,
  writeValue,
} from '../instrument/index.ts'
import { AskedTab, ruled, Scale, scaleHeight } from '../scale/index.ts'
import { Bar, sinceWords, stateBarHeight } from '../states/index.ts'

const widest = 420
const roomForLabel = 56
/** Below the line of a scale, px: room for the tab. */
const tabHeight = 8
/** Of the line of words below a value, px from above. */
const wordsLine = 45

export const control = defineInstrument({
  kind: 'control',
  name: 'Control',
  purpose:
    'What something that can be switched or set is, and what it was asked for; they differ until the device says so.',
  settings: { span: spanSetting('hour') },
  takes: { kinds: ['switch', 'choice', 'number', 'momentary', 'text'], most: 1 },
  fit: ({ origin }) => (origin === 'controlled' ? 0.9 : 0),
  importance: 'normal',
  needs: ({ span }) => ({ span, commands: true }),
  height: ({ signals: [signal] }) => {
    if (signal?.kind === 'number') return headHeight + scaleHeight + tabHeight
    return headHeight + (hasStates(signal) ? stateBarHeight + 4 : 4)
  },
  Drawing: (shown) => {
    const [signal] = shown.signals
    if (!signal) return null
    const width = Math.min(widest, shown.width)
    const { asked } = signal
    return (
      <g>
        <Head
          signal={signal}
          shown={shown}
          rest={hasStates(signal) ? sinceWords(signal, shown) : undefined}
          hasWords={asked === null}
        />
        {asked && (
          <text data-asked={signal.id} y={wordsLine} fontSize={12.5} fontWeight={600} fill="var(--chestnut)">
            {fitText(
              [askedWords(signal, asked, shown), ...standingOf(signal, shown.now, shown.writing).words].join(
                ' · ',
              ),
              shown.width,
              12.5,
            )}
          </text>
        )}
        <g transform={`translate(0 ${headHeight})`}>
          {signal.kind === 'number' && <Along signal={signal} shown={{ ...shown, width }} />}
          {hasStates(signal) && <Bar signal={signal} {...shown} width={width} />}
        </g>
      </g>
    )
  },
})

const hasStates = (signal: ShownSignal | undefined): boolean =>
  signal?.kind === 'switch' || signal?.kind === 'choice'

/** Where a number lies, and where it is asked to be. */
function Along({ signal, shown }: { readonly signal: ShownSignal; readonly shown: Shown }) {
  const drawn = ruled(signal, shown, Math.floor(shown.width / roomForLabel))
  if (!drawn) return null
  const { asked } = signal
  return (
    <g>
      <Scale {...drawn} span={undefined} before={undefined} />
      {typeof asked?.value === 'number' && <AskedTab {...drawn} value={asked.value} />}
    </g>
  )
}

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
