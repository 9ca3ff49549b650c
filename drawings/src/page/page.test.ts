import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import type { Instrument } from '../instrument/index.ts'
import { instrumentOf } from '../registry/index.ts'
import { sampleOf } from '../samples/index.ts'
import { Page, type PageChapter, withRoom } from './Page.tsx'

const instrument = instrumentOf('scale') as Instrument
const { width: _, ...shown } = sampleOf(instrument, 'at rest', 200)
const chapter = (count: number): PageChapter => ({
  key: 'c',
  title: 'Cave',
  instruments: Array.from({ length: count }, (_each, place) => ({
    key: `i${place}`,
    title: `Number ${place}`,
    importance: 'normal',
    instrument,
    shown,
  })),
})
const draw = (count: number, width: number, height: number) =>
  renderToStaticMarkup(
    createElement(
      'svg',
      null,
      createElement(Page, { title: 'Caves', aside: 'now', chapters: [chapter(count)], width, height }),
    ),
  )

it('draws what has room, in whole rows, and counts what has none', () => {
  expect(draw(4, 400, 300)).not.toContain('no room')
  const drawn = draw(9, 400, 300)
  expect(drawn.match(/Number \d/g)).toHaveLength(4)
  expect(drawn).toContain('5 more have no room here.')
  expect(withRoom({ chapters: [chapter(9)], width: 400, height: 300 }).has('i3')).toBe(true)
  expect(withRoom({ chapters: [chapter(9)], width: 400, height: 300 }).has('i4')).toBe(false)
})

it('is drawn smaller where nothing has room else, and nothing lies outside', () => {
  const drawn = draw(4, 250, 122)
  expect(drawn).toContain('Number 0')
  expect(Number(/scale\(([\d.]+)\)/.exec(drawn)?.[1])).toBeLessThan(1)
})

it('says so where not even that is enough', () => {
  expect(draw(2, 100, 80)).toContain('2 more have no room here.')
})
