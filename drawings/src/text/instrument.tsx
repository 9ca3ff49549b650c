import { unitSymbol } from '@jaunty-sparrow/core/units'
import { choice, defineInstrument, type Shown, valueWords, words } from '../instrument/index.ts'
import { wrapped } from './wrapped.ts'

const sizes = { usual: 15, large: 24 } as const

export const text = defineInstrument({
  kind: 'text',
  name: 'Text',
  purpose: 'Words of your own with live values in them: {1} stands for the first signal, {2} for the second.',
  settings: {
    words: words('Words', '{1}', 2000, { editor: 'lines' }),
    size: choice('Size', { usual: 'usual', large: 'large' }, 'usual'),
  },
  takes: { kinds: ['number', 'switch', 'choice', 'text', 'position'], most: 9 },
  fit: () => 0.02,
  importance: 'normal',
  needs: () => ({}),
  height: (shown) =>
    linesOf(shown, sizes[shown.settings.size]).length * sizes[shown.settings.size] * 1.45 + 6,
  Drawing: (shown) => {
    const size = sizes[shown.settings.size]
    return (
      <g>
        {linesOf(shown, size).map((line, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a line is what it is by its place
          <text key={place} y={(place + 1) * size * 1.45 - size * 0.3} fontSize={size} fill="var(--ink)">
            {line}
          </text>
        ))}
      </g>
    )
  },
})

const linesOf = ({ settings, signals, writing, width }: Shown<{ words: string }>, size: number): string[] =>
  wrapped(
    settings.words.replaceAll(/\{([1-9])\}/g, (whole, place: string) => {
      const signal = signals[Number(place) - 1]
      if (!signal) return whole
      const { text: said, isNumber } = valueWords(signal, writing)
      return isNumber && signal.unit ? `${said}\u00a0${unitSymbol(signal.unit)}` : said
    }),
    width,
    size,
  )
