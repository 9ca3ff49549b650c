import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { LimitLines } from './LimitLines.tsx'

const draw = (limits: Parameters<typeof LimitLines>[0]['limits']) =>
  renderToStaticMarkup(
    createElement(LimitLines, { limits, left: 10, right: 110, y: (value: number) => 100 - value }),
  )

it('draws each limit where it is, its notch into the allowed side, and none that is not', () => {
  const drawn = draw({ lowLow: null, low: 20, high: 80, highHigh: null })
  expect(drawn.match(/data-limit="\w+"/g)).toEqual(['data-limit="low"', 'data-limit="high"'])
  // Up on the screen is less: from the lower limit the foot points up, from the upper one down.
  expect(drawn).toContain('translate(10 80)"><path d="M0 0H100"')
  expect(drawn).toContain('d="M0 0h6l-6 -6z"')
  expect(drawn).toContain('translate(10 20)')
  expect(drawn).toContain('d="M0 0h6l-6 6z"')
})
