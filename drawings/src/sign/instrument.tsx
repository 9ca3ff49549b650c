import { choice, defineInstrument, fitText, inks, number, standingOf, words } from '../instrument/index.ts'
import { SignShape } from './SignShape.tsx'
import { signOf } from './signOf.ts'

const size = 40

export const sign = defineInstrument({
  kind: 'sign',
  name: 'State sign',
  purpose: 'A shape and a word for how something stands, to be read from across the room.',
  settings: {
    by: choice(
      'By',
      { limits: 'its limits', bands: 'its named bands', state: 'its state', condition: 'a bound of its own' },
      'limits',
    ),
    above: number('The bound', 0),
    beyond: words('Above it', 'yes', 40),
    within: words('Up to it', 'no', 40),
  },
  takes: { kinds: ['number', 'switch', 'choice', 'text'], most: 1 },
  fit: ({ kind, bands, limits }) => (kind === 'number' && bands.length > 0 && !limits ? 0.5 : 0.1),
  importance: 'normal',
  needs: () => ({}),
  height: () => size + 22,
  Drawing: (shown) => {
    const [signal] = shown.signals
    if (!signal) return null
    const { shape, word } = signOf(signal, shown.settings, shown)
    const { tone, words } = standingOf(signal, shown.now, shown.writing)
    return (
      <g>
        <g transform={`translate(${size / 2 + 1} ${size / 2 + 3})`}>
          <SignShape shape={shape} ink={inks[tone]} size={size} />
        </g>
        <text
          x={size + 14}
          y={size / 2 + 12}
          fontSize={28}
          fontWeight={600}
          fill={inks[tone]}
          data-value={signal.id}
        >
          {fitText(word, shown.width - size - 14, 28)}
        </text>
        {words.length > 0 && (
          <text y={size + 19} fontSize={12.5} fontWeight={600} fill={inks[tone]}>
            {fitText(words.join(' · '), shown.width, 12.5)}
          </text>
        )}
      </g>
    )
  },
})
