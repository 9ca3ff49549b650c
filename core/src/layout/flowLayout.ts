/** How much room an instrument is given. */
export const importances = ['small', 'normal', 'large', 'full'] as const
export type Importance = (typeof importances)[number]

/** How wide something of each importance is, in columns of a form. */
export interface Form {
  readonly columns: number
  readonly widths: Readonly<Record<Importance, number>>
}

/** The three readings of one order: on a desk, on a wall, on a phone. */
export const forms = {
  phone: { columns: 2, widths: { small: 1, normal: 1, large: 2, full: 2 } },
  desk: { columns: 8, widths: { small: 1, normal: 2, large: 4, full: 8 } },
  wall: { columns: 12, widths: { small: 2, normal: 3, large: 6, full: 12 } },
} as const satisfies Record<string, Form>

/** Something in an order, and how important it is. */
export interface Flowing {
  readonly id: string
  readonly importance: Importance
}

/** Where something stands: rows and columns are counted from 0. */
export interface Placed {
  readonly id: string
  readonly row: number
  readonly column: number
  readonly width: number
}

/**
 * Places things in their order, row by row. A row is filled by those that stand in it, each given one column more in turn; only the
 * last row stays as it is, so that what stands at its end is not drawn out.
 */
export function flowLayout(items: readonly Flowing[], form: Form): Placed[] {
  const rows: { id: string; width: number }[][] = []
  let used = form.columns
  for (const { id, importance } of items) {
    const width = form.widths[importance]
    if (used + width > form.columns) {
      rows.push([])
      used = 0
    }
    rows.at(-1)?.push({ id, width })
    used += width
  }
  return rows.flatMap((row, at) => {
    const free = form.columns - row.reduce((sum, { width }) => sum + width, 0)
    let column = 0
    return row.map(({ id, width: own }, place) => {
      const more =
        at === rows.length - 1 ? 0 : Math.floor(free / row.length) + (place < free % row.length ? 1 : 0)
      const placed = { id, row: at, column, width: own + more }
      column += placed.width
      return placed
    })
  })
}
