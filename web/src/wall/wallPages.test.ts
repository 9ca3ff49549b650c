import fc from 'fast-check'
import { wallPages } from './wallPages.ts'

it('fills a page with rows as long as they fit, and cuts through one only where it alone is too high', () => {
  const rows = [
    { top: 0, height: 100 },
    { top: 100, height: 100 },
    { top: 200, height: 150 },
    { top: 350, height: 500 },
  ]
  expect(wallPages(rows, 240)).toEqual([
    { top: 0, height: 200 },
    { top: 200, height: 150 },
    { top: 350, height: 240 },
    { top: 590, height: 240 },
    { top: 830, height: 20 },
  ])
  expect(wallPages([], 240)).toEqual([])
})

it('shows every row, in order, on pages no higher than the wall', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 400 }), { maxLength: 20 }), (heights) => {
      let top = 0
      const rows = heights.map((height) => {
        const row = { top, height }
        top += height
        return row
      })
      const pages = wallPages(rows, 300)
      for (const { height } of pages) expect(height).toBeLessThanOrEqual(300)
      // End to end they are the whole page again.
      let at = 0
      for (const page of pages) {
        expect(page.top).toBe(at)
        at += page.height
      }
      expect(at).toBe(top)
    }),
  )
})
