import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { Compass } from './Compass.tsx'

const draw = (direction: number | undefined, rose: readonly number[]) =>
  renderToStaticMarkup(createElement('svg', null, createElement(Compass, { direction, rose, size: 128 })))

it('points where it comes from, and has a petal for each direction that was', () => {
  const drawn = draw(90, [1, 0, 0.5, 0])
  expect(drawn).toMatch(/data-beak="now" transform="rotate\(90\)"/)
  expect([...drawn.matchAll(/data-petal="(\d)"/g)].map(([, petal]) => petal)).toEqual(['0', '2'])
  // Of a ring of 60 px the longest petal takes 36: north is up, and half as much is down.
  expect(drawn).toMatch(/data-petal="0" d="M0 0L-25.46 -25.46A36 36 0 0 1 25.46 -25.46Z"/)
  expect(drawn).toMatch(/data-petal="2" d="M0 0L12.73 12.73A18 18 0 0 1 -12.73 12.73Z"/)
})

it('has no beak where nothing is known', () => {
  expect(draw(undefined, [0, 0, 0, 0])).not.toMatch(/data-(beak|petal)/)
})
