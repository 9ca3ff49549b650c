import { type ComponentProps, createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { DayStrip } from './DayStrip.tsx'

const day: ComponentProps<typeof DayStrip> = {
  from: 1000,
  to: 2000,
  came: [3, 3, 0, 3],
  silences: [],
  nights: [],
  ticks: [{ at: 1500, label: '06:00' }],
  moment: 2000,
  isLive: true,
  width: 400,
}
const draw = (props: Partial<typeof day>) =>
  renderToStaticMarkup(createElement('svg', null, createElement(DayStrip, { ...day, ...props })))

it('draws silence and night where they were, as far as the day reaches', () => {
  const drawn = draw({ silences: [{ from: 1250, to: 1750 }], nights: [{ from: 0, to: 1100 }] })
  expect(drawn).toMatch(/data-silence="true" x="100" width="200"/)
  expect(drawn).toMatch(/data-night="true" x="0" width="40"/)
})

it('has its beak at what is looked at, filled when that is the present', () => {
  expect(draw({})).toMatch(/data-beak="true" transform="translate\(400 .*fill="var\(--ink\)"/)
  expect(draw({ moment: 1500, isLive: false })).toMatch(
    /data-beak="true" transform="translate\(200 .*fill="var\(--paper\)"/,
  )
})
