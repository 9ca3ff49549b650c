import fc from 'fast-check'
import { spreadNames } from './spreadNames.ts'

it('leaves names where they want to be while there is room', () => {
  expect(spreadNames([20, 80, 140], 13, 10, 200)).toEqual([20, 80, 140])
  expect(spreadNames([50, 52], 13, 10, 200)).toEqual([50, 63])
  expect(spreadNames([52, 50], 13, 10, 200)).toEqual([63, 50])
})

it('keeps them apart, in their order and above the foot, wherever they want to be', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 200, noNaN: true }), { maxLength: 6 }), (wanted) => {
      const placed = spreadNames(wanted, 13, 0, 200)
      const sorted = [...placed].sort((a, b) => a - b)
      for (let next = 1; next < sorted.length; next++)
        expect((sorted[next] ?? 0) - (sorted[next - 1] ?? 0)).toBeGreaterThanOrEqual(13 - 1e-9)
      expect(Math.max(0, ...placed)).toBeLessThanOrEqual(200 + 1e-9)
      for (const [one, y] of wanted.entries())
        for (const [other, z] of wanted.entries())
          if (y < z) expect(placed[one] ?? 0).toBeLessThan(placed[other] ?? 0)
    }),
  )
})
