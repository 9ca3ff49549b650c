import fc from 'fast-check'
import { type Flowing, flowLayout, forms, importances } from './flowLayout.ts'

const normal = (...ids: string[]): Flowing[] => ids.map((id) => ({ id, importance: 'normal' }))

it('fills each row by those that stand in it', () => {
  const large: Flowing = { id: 'large', importance: 'large' }
  expect(flowLayout([...normal('a', 'b', 'c'), large, ...normal('d')], forms.desk)).toEqual([
    // Three of two columns leave two free, which the first two take.
    { id: 'a', row: 0, column: 0, width: 3 },
    { id: 'b', row: 0, column: 3, width: 3 },
    { id: 'c', row: 0, column: 6, width: 2 },
    { id: 'large', row: 1, column: 0, width: 4 },
    { id: 'd', row: 1, column: 4, width: 2 },
  ])
})

it('does not draw out what stands alone at the end', () => {
  expect(flowLayout(normal('alone'), forms.desk)).toEqual([{ id: 'alone', row: 0, column: 0, width: 2 }])
})

const items = fc
  .array(fc.constantFrom(...importances), { maxLength: 40 })
  .map((all) => all.map((importance, place): Flowing => ({ id: String(place), importance })))

it.each(Object.entries(forms))(
  'on a %s keeps the order, in bounds, with no overlap and no hole',
  (_, form) => {
    fc.assert(
      fc.property(items, (flowing) => {
        const placed = flowLayout(flowing, form)
        expect(placed.map(({ id }) => id)).toEqual(flowing.map(({ id }) => id))
        const last = placed.at(-1)?.row ?? 0
        for (let row = 0; row <= last; row++) {
          const inRow = placed.filter((each) => each.row === row)
          let column = 0
          for (const each of inRow) {
            expect(each.column).toBe(column)
            const { importance = 'normal' } = flowing.find(({ id }) => id === each.id) ?? {}
            expect(each.width).toBeGreaterThanOrEqual(form.widths[importance])
            column += each.width
          }
          if (row < last) expect(column).toBe(form.columns)
          else if (inRow.length > 0) expect(column).toBeLessThanOrEqual(form.columns)
          // What went to the next row had no room in this one.
          const [next] = placed.filter((each) => each.row === row + 1)
          const nextImportance = flowing.find(({ id }) => id === next?.id)?.importance
          const needed = inRow.reduce(
            (sum, { id }) =>
              sum + form.widths[flowing.find((each) => each.id === id)?.importance ?? 'normal'],
            0,
          )
          if (nextImportance) expect(needed + form.widths[nextImportance]).toBeGreaterThan(form.columns)
        }
      }),
    )
  },
)
