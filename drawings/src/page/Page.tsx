import { type Form, flowLayout, forms, type Importance } from '@jaunty-sparrow/core/layout'
import type { ReactNode } from 'react'
import { fitText, type Instrument, type Shown } from '../instrument/index.ts'

/** An instrument of a page, with all it is drawn from but its width. */
export interface PageInstrument {
  readonly key: string
  readonly title: string
  readonly importance: Importance
  readonly instrument: Instrument
  readonly shown: Omit<Shown, 'width'>
}

export interface PageChapter {
  readonly key: string
  readonly title: string
  readonly instruments: readonly PageInstrument[]
}

export interface PageProps {
  readonly title: string
  /** Beside the title: of when it is. */
  readonly aside: string
  readonly chapters: readonly PageChapter[]
  /** px */
  readonly width: number
  readonly height: number
}

const margin = 10
const between = 18
const headHeight = 30
const chapterHead = 24
const titleHeight = 18
const below = 10
/** The foot says what had no room, px. */
const footHeight = 16

interface PlacedThing {
  readonly key: string
  readonly x: number
  readonly y: number
  readonly draw: () => ReactNode
}

/** So much smaller a page is drawn, where nothing has room else: most displays are held in the hand. */
const scales = [1, 0.9, 0.8, 0.65, 0.5] as const

/** A page as one picture: its chapters in rows, as far as there is room, and how much there is besides. */
export function Page({ title, aside, chapters, width: whole, height: full }: PageProps): ReactNode {
  const { scale, width, height, things, left } = fitted(chapters, whole, full)
  return (
    <g transform={scale === 1 ? undefined : `scale(${scale})`}>
      <text x={margin} y={21} fontSize={17} fontWeight={600} fill="var(--ink)">
        {fitText(title, width * 0.6, 17)}
      </text>
      <text x={width - margin} y={21} fontSize={13} textAnchor="end" fill="var(--ink-soft)">
        {aside}
      </text>
      <g transform={`translate(${margin} ${headHeight})`}>
        {things.map(({ key, x, y, draw }) => (
          <g key={key} transform={`translate(${x.toFixed(1)} ${y.toFixed(1)})`}>
            {draw()}
          </g>
        ))}
      </g>
      {left > 0 && (
        <text x={margin} y={height - 5} fontSize={11} fill="var(--ink-soft)">
          {left === 1 ? 'One more instrument has no room here.' : `${left} more have no room here.`}
        </text>
      )}
    </g>
  )
}

/** Which instruments of a page have room, by their keys: what has none need not be read. */
export function withRoom({
  chapters,
  width,
  height,
}: Pick<PageProps, 'chapters' | 'width' | 'height'>): ReadonlySet<string> {
  return new Set(fitted(chapters, width, height).things.map(({ key }) => key))
}

/** Lays a page as large as it can be with anything on it at all; a little smaller, where more has room then. */
function fitted(chapters: readonly PageChapter[], whole: number, full: number) {
  const laid = (scale: number) => {
    const [width, height] = [whole / scale, full / scale]
    return {
      scale,
      width,
      height,
      ...layPage(chapters, width - 2 * margin, height - headHeight - footHeight),
    }
  }
  const [large, ...smaller] = scales
  let best = laid(large)
  for (const scale of smaller) {
    const isEmpty = best.things.length === 0
    if (best.left === 0 || (!isEmpty && scale < 0.8)) break
    const next = laid(scale)
    if (next.left < best.left) best = next
  }
  return best
}

const formFor = (width: number): Form => (width < 560 ? forms.phone : width < 1600 ? forms.desk : forms.wall)

/** Places chapters one below the other; a row that has no room, and all that follow, are left out and counted. */
function layPage(
  chapters: readonly PageChapter[],
  width: number,
  height: number,
): { readonly things: readonly PlacedThing[]; readonly left: number } {
  const form = formFor(width)
  const column = (width + between) / form.columns
  const things: PlacedThing[] = []
  let y = 0
  let placed = 0
  const all = chapters.reduce((sum, { instruments }) => sum + instruments.length, 0)
  for (const chapter of chapters) {
    const places = flowLayout(
      chapter.instruments.map(({ key, importance }) => ({ id: key, importance })),
      form,
    )
    const rows = [...new Set(places.map(({ row }) => row))]
    for (const row of rows) {
      const drawn = places
        .filter((place) => place.row === row)
        .flatMap((place) => {
          const there = chapter.instruments.find(({ key }) => key === place.id)
          if (!there) return []
          const shown: Shown = { ...there.shown, width: Math.floor(column * place.width - between) }
          return [{ there, shown, x: column * place.column, height: there.instrument.height(shown) }]
        })
      const rowHeight = titleHeight + Math.max(...drawn.map((each) => each.height)) + below
      const head = row === 0 ? chapterHead : 0
      if (y + head + rowHeight > height) return { things, left: all - placed }
      if (row === 0) {
        const { title, key } = chapter
        things.push({ key: `head ${key}`, x: 0, y, draw: () => <Heading title={title} width={width} /> })
      }
      y += head
      for (const { there, shown, x } of drawn) {
        const { Drawing } = there.instrument
        things.push({
          key: there.key,
          x,
          y,
          draw: () => (
            <>
              <text y={13} fontSize={13} fill="var(--ink-soft)">
                {fitText(there.title, shown.width, 13)}
              </text>
              <g transform={`translate(0 ${titleHeight})`}>
                <Drawing {...shown} />
              </g>
            </>
          ),
        })
      }
      placed += drawn.length
      y += rowHeight
    }
  }
  return { things, left: 0 }
}

const Heading = ({ title, width }: { readonly title: string; readonly width: number }) => (
  <>
    <path d={`M0 0.5H${width}`} stroke="var(--ink)" />
    <text y={17} fontSize={14} fontWeight={600} fill="var(--ink)">
      {fitText(title, width, 14)}
    </text>
  </>
)
