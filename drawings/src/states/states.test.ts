import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { StateBar } from './StateBar.tsx'
import { stateSpans } from './stateSpans.ts'

it('finds when it was on, joined where it was told again', () => {
  const points = [
    [0, 0],
    [10, 1],
    [20, 1],
    [30, 0],
    [50, 1],
  ] as const
  expect(stateSpans(points, 60, 100)).toEqual([
    { from: 10, to: 30 },
    { from: 50, to: 60 },
  ])
})

it('knows nothing of a silence', () => {
  expect(
    stateSpans(
      [
        [0, 1],
        [100, 1],
        [200, 0],
      ],
      300,
      40,
    ),
  ).toEqual([
    { from: 0, to: 40 },
    { from: 100, to: 140 },
  ])
})

it('draws what lies inside, cut where the time ends', () => {
  const spans = [
    { from: -50, to: 25 },
    { from: 50, to: 75 },
    { from: 110, to: 120 },
  ]
  const drawn = renderToStaticMarkup(
    createElement('svg', null, createElement(StateBar, { spans, from: 0, to: 100, width: 200 })),
  )
  expect(
    [...drawn.matchAll(/data-on="true" x="([\d.]+)" y="2" width="([\d.]+)"/g)].map(([, x, w]) => [x, w]),
  ).toEqual([
    ['0', '50'],
    ['100', '50'],
  ])
})
