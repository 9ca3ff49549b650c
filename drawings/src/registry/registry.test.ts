import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { textWidth, describe as wordsOf } from '../instrument/index.ts'
import { sampleOf, sampleStates } from '../samples/index.ts'
import { instruments } from './instruments.ts'
import { settingsOf, settingsSchema } from './registry.ts'

const every = instruments.flatMap((instrument) =>
  sampleStates.flatMap((state) =>
    [150, 460].map((width) => ({ instrument, state, width, kind: instrument.kind })),
  ),
)

it.each(every)(
  '$kind, $state, $width px: draws numbers only, and nothing outside its place',
  ({ instrument, state, width }) => {
    const shown = sampleOf(instrument, state, width)
    const height = instrument.height(shown)
    const drawn = renderToStaticMarkup(createElement(instrument.Drawing, shown))
    expect(height).toBeGreaterThan(10)
    expect(drawn).not.toMatch(/NaN|Infinity|undefined/)
    for (const [, y] of drawn.matchAll(/<text[^>]* y="(-?[\d.]+)"/g))
      expect(Number(y)).toBeLessThanOrEqual(height + 20)
    for (const [, size, text = ''] of drawn.matchAll(/<text[^>]*fontSize="([\d.]+)"[^>]*>([^<]+)</g))
      expect(textWidth(text, Number(size))).toBeLessThanOrEqual(width)
  },
)

it.each(instruments)('$kind says in words what it draws', (instrument) => {
  const beyond = sampleOf(instrument, 'beyond limit', 300)
  if (beyond.signals[0]?.kind === 'number') expect(wordsOf(beyond)).toMatch(/15\.2.*too high/)
  else expect(wordsOf(beyond)).not.toBe('')
})

it.each(instruments)(
  '$kind uses no colour at rest, and none but that of trouble beyond a limit',
  (instrument) => {
    const coloured = (state: (typeof sampleStates)[number]) => {
      const drawn = renderToStaticMarkup(createElement(instrument.Drawing, sampleOf(instrument, state, 300)))
      return [...new Set([...drawn.matchAll(/var\(--(late|trouble|chestnut)\)/g)].map(([, name]) => name))]
    }
    expect(coloured('at rest')).toEqual([])
    for (const name of coloured('beyond limit')) expect(name).toBe('trouble')
  },
)

it.each(instruments)(
  '$kind has a setting for nothing without a title and a usual value that its schema allows',
  (instrument) => {
    for (const setting of Object.values(instrument.settings)) {
      expect(setting.title).toMatch(/\S/)
      const allowed = setting.enum as unknown[] | undefined
      if (allowed) expect(allowed).toContain(setting.default)
      expect(Array.isArray(setting.default) ? 'array' : typeof setting.default).toBe(setting.type)
    }
    expect(settingsOf(instrument, { more: 1 })).toMatchObject({ more: 1 })
    expect(settingsSchema(instrument)).toMatchObject({ type: 'object', additionalProperties: false })
  },
)
