/** Where a row stands on a long page, px. */
export interface Standing {
  readonly top: number
  readonly height: number
}

/** What a wall shows at once, px of the long page. */
export interface WallPage {
  readonly top: number
  readonly height: number
}

/**
 * Cuts a long page into what a wall shows one after the other: between rows, and through one only where it alone is too high.
 * @param room how high the wall is, px
 */
export function wallPages(rows: readonly Standing[], room: number): WallPage[] {
  const pages: { top: number; height: number }[] = []
  for (const { top, height } of rows) {
    const page = pages.at(-1)
    if (page && top + height - page.top <= room) page.height = top + height - page.top
    else
      for (let from = top; from < top + height; from += room)
        pages.push({ top: from, height: Math.min(room, top + height - from) })
  }
  return pages
}
