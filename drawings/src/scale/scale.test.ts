import fc from 'fast-check'
import { type ComponentProps, createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { hatching } from './hatching.ts'
import { Scale } from './Scale.tsx'

const scale: ComponentProps<typeof Scale> = {
  low: 8,
  high: 16,
  ticks: [{ value: 12, label: '12' }],
  limits: { lowLow: null, low: 10, high: 14, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 },
  value: 11,
  before: 13,
  span: { low: 10, high: 13 },
  width: 192,
}
const draw = (more: Partial<typeof scale>) =>
  renderToStaticMarkup(createElement('svg', null, createElement(Scale, { ...scale, ...more })))
/** Where something of the drawing is moved to along the scale, px. */
const across = (drawn: string, what: string): number =>
  Number(new RegExp(`${what}[^>]*translate\\(([\\d.]+) `).exec(drawn)?.[1])

it('has each thing where its number lies on the line', () => {
  const drawn = draw({})
  // Of 160 px between 8 and 16, a unit is 20 px, and there are 16 px beside it.
  expect(across(drawn, 'data-beak="now"')).toBe(76)
  expect(across(drawn, 'data-beak="before"')).toBe(116)
  expect(across(drawn, 'data-limit="low"')).toBe(56)
  expect(across(drawn, 'data-limit="high"')).toBe(136)
  expect(drawn).toMatch(/data-span="true" x="56" y="13" width="60"/)
})

it('keeps what is beyond its ends at its ends, and leaves out what is not known', () => {
  expect(across(draw({ value: 99 }), 'data-beak="now"')).toBe(176)
  expect(across(draw({ value: -99 }), 'data-beak="now"')).toBe(16)
  const bare = draw({ value: undefined, before: undefined, span: undefined, limits: null })
  expect(bare).not.toMatch(/data-(beak|span|limit|beyond)/)
})

it('points the foot of a notch into the allowed side', () => {
  const drawn = draw({})
  expect(drawn).toMatch(/data-limit="low"[^>]*d="M0 0V-11h5L/)
  expect(drawn).toMatch(/data-limit="high"[^>]*d="M0 0V-11h-5L/)
})

it('hatches all of a stretch and nothing outside', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 1, max: 100 }), (left, length) => {
      const strokes = [
        ...hatching(left, left + length, 10, 16).matchAll(/M([\d.]+) ([\d.]+)L([\d.]+) ([\d.]+)/g),
      ]
      for (const [, ...ends] of strokes) {
        const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = ends.map(Number)
        expect(Math.min(x1, x2)).toBeGreaterThanOrEqual(left)
        expect(Math.max(x1, x2)).toBeLessThanOrEqual(left + length)
        expect(Math.min(y1, y2)).toBeGreaterThanOrEqual(10)
        expect(Math.max(y1, y2)).toBeLessThanOrEqual(16)
        expect(x2 - x1).toBeCloseTo(y1 - y2, 9)
      }
      if (length >= 8) expect(strokes.length).toBeGreaterThanOrEqual(Math.floor(length / 4))
    }),
  )
})
