import { unitSymbol } from '@jaunty-sparrow/core/units'
import {
  defineInstrument,
  fitText,
  inks,
  number,
  type Setting,
  type Shown,
  type ShownSignal,
  standingOf,
  textWidth,
  valueWords,
  words,
} from '../instrument/index.ts'

const pinHeight = 24

/** Across and down, of 1; in the order of the signals. */
const pinSetting: Setting<readonly (readonly [across: number, down: number])[]> = {
  type: 'array',
  title: 'Where the values stand',
  default: [],
  maxItems: 40,
  items: { type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 },
  editor: 'pins',
}

export const picture = defineInstrument({
  kind: 'picture',
  name: 'Picture',
  purpose: 'Your own plan, photo or wiring sketch with live values pinned on it.',
  settings: {
    picture: words('Picture', '', 400_000, {
      pattern: '^(?:data:image/(?:png|jpeg|webp);base64,[A-Za-z0-9+/=]*)?$',
      editor: 'picture',
    }),
    ratio: number('Width to height', 1.6, { minimum: 0.1, maximum: 10, editor: 'none' }),
    pins: pinSetting,
  },
  takes: { kinds: ['number', 'switch', 'choice', 'text'], most: 40 },
  fit: () => 0.01,
  importance: 'large',
  needs: () => ({}),
  height: ({ settings, width }) => Math.round(width / settings.ratio),
  Drawing: (shown) => {
    const { settings, signals, width } = shown
    const height = width / settings.ratio
    return (
      <g>
        {settings.picture === '' ? (
          <g>
            <rect
              x={0.5}
              y={0.5}
              width={width - 1}
              height={height - 1}
              fill="none"
              stroke="var(--rule-strong)"
              strokeDasharray="1 4"
            />
            <text x={width / 2} y={height - 14} textAnchor="middle" fontSize={13} fill="var(--ink-soft)">
              Choose a picture in the settings of this instrument.
            </text>
          </g>
        ) : (
          <image href={settings.picture} width={width} height={height} preserveAspectRatio="xMidYMid meet" />
        )}
        {signals.map((signal, place) => {
          // What nobody has placed stands along the left edge, where it can be taken from.
          const [across, down] = settings.pins[place] ?? [0.02, Math.min(0.9, 0.06 + place * 0.12)]
          return (
            <g
              key={signal.id}
              data-pin={signal.id}
              transform={`translate(${(across * width).toFixed(1)} ${(down * height).toFixed(1)})`}
            >
              <Pin signal={signal} shown={shown} />
            </g>
          )
        })}
      </g>
    )
  },
})

function Pin({
  signal,
  shown,
}: {
  readonly signal: ShownSignal
  readonly shown: Pick<Shown, 'now' | 'writing'>
}) {
  const { tone } = standingOf(signal, shown.now, shown.writing)
  const { text, isNumber } = valueWords(signal, shown.writing)
  const said = fitText(isNumber && signal.unit ? `${text} ${unitSymbol(signal.unit)}` : text, 120, 14)
  const mark = tone === 'trouble' ? '! ' : tone === 'late' ? '? ' : ''
  const width = textWidth(mark + said, 14) + 14
  return (
    <g>
      <title>{signal.title}</title>
      <rect
        width={width}
        height={pinHeight}
        rx={3}
        fill="var(--paper)"
        stroke={inks[tone]}
        strokeWidth={tone === 'rest' ? 0.75 : 2}
      />
      <text x={7} y={17} fontSize={14} fontWeight={600} fill={inks[tone]} data-value={signal.id}>
        {mark + said}
      </text>
    </g>
  )
}
