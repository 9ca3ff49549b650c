import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { Trial, type TrialProps, trialLayout } from './Trial.tsx'

const props: TrialProps = {
  width: 574,
  from: 0,
  to: 100,
  timeZone: 'UTC',
  rows: [
    {
      name: 'Humidity',
      points: [
        [0, 90],
        [100, 80],
      ],
      isSwitch: false,
      gap: 1000,
      low: 80,
      high: 100,
      bounds: [{ id: 'when', value: 85, side: 'below' }],
    },
    { name: 'Lid open', points: [[0, 0]], isSwitch: true, gap: 1000, low: 0, high: 1, bounds: [] },
  ],
  says: 'It would have acted',
  acting: [{ from: 50, to: 75 }],
  unknown: [],
  overruled: [{ from: 60, to: 200 }],
}
const drawn = renderToStaticMarkup(createElement('svg', null, createElement(Trial, props)))

it('lays rows under each other, none over another, and all within its height', () => {
  const { rows, bar, height, left, right } = trialLayout(props)
  const edges = [...rows.flatMap(({ top, bottom }) => [top, bottom]), bar.top, bar.bottom, height]
  expect([...edges].sort((a, b) => a - b)).toEqual(edges)
  expect([left, right]).toEqual([64, 564])
  expect(rows[0]?.y(100)).toBe(rows[0]?.top)
  expect(rows[0]?.y(80)).toBe(rows[0]?.bottom)
})

it('shows when it would have acted where that was, and no further than the span', () => {
  // 500 px for 100 ms: half of it is 250 px from the left edge.
  expect(drawn).toMatch(/<rect data-acting="true" x="314" width="125"/)
  expect(drawn).toMatch(/<rect data-overruled="true" x="364" width="200"/)
})

it('puts a bound at its value, its foot on the side where the condition holds', () => {
  const y = trialLayout(props).rows[0]?.y(85)
  expect(drawn).toContain(`data-bound="when" transform="translate(64 ${y})"`)
  expect(drawn).toMatch(/data-bound="when".*?d="M0 0h6l-6 6z"/)
})
