import type { Chapter, Dashboard, PlacedInstrument } from './dashboard.ts'
import { phoneOrder } from './phoneOrder.ts'

/** One change of a dashboard. Ids of what is new come from whoever makes it. */
export type Edit =
  | { readonly do: 'add-chapter'; readonly chapter: Chapter; readonly at?: number }
  | { readonly do: 'change-chapter'; readonly id: string; readonly to: Partial<Omit<Chapter, 'id'>> }
  | { readonly do: 'remove-chapter'; readonly id: string }
  | { readonly do: 'move-chapter'; readonly id: string; readonly at: number }
  | { readonly do: 'add'; readonly chapter: string; readonly instruments: readonly PlacedInstrument[] }
  | { readonly do: 'change'; readonly id: string; readonly to: Partial<Omit<PlacedInstrument, 'id'>> }
  | { readonly do: 'remove'; readonly id: string }
  | { readonly do: 'duplicate'; readonly id: string; readonly as: string }
  | { readonly do: 'move'; readonly id: string; readonly chapter: string; readonly at: number }
  | { readonly do: 'move-on-phone'; readonly id: string; readonly at: number }

/** Makes a change. One that names what is not there, as it was removed meanwhile, changes nothing. */
export function edited(dashboard: Dashboard, edit: Edit): Dashboard {
  const { chapters } = dashboard
  switch (edit.do) {
    case 'add-chapter':
      return { chapters: chapters.toSpliced(edit.at ?? chapters.length, 0, edit.chapter) }
    case 'change-chapter':
      return { chapters: chapters.map((each) => (each.id === edit.id ? { ...each, ...edit.to } : each)) }
    case 'remove-chapter':
      return { chapters: chapters.filter(({ id }) => id !== edit.id) }
    case 'move-chapter': {
      const moved = chapters.find(({ id }) => id === edit.id)
      if (!moved) return dashboard
      return { chapters: chapters.filter((each) => each !== moved).toSpliced(edit.at, 0, moved) }
    }
    case 'add':
      return withInstruments(dashboard, edit.chapter, (there) => [...there, ...edit.instruments])
    case 'change':
      return where(dashboard, edit.id, (there, place) =>
        there.with(place, { ...at(there, place), ...edit.to }),
      )
    case 'remove':
      return where(dashboard, edit.id, (there, place) => there.toSpliced(place, 1))
    case 'duplicate':
      return where(dashboard, edit.id, (there, place) =>
        there.toSpliced(place + 1, 0, { ...at(there, place), id: edit.as }),
      )
    case 'move': {
      const moved = chapters.flatMap(({ instruments }) => instruments ?? []).find(({ id }) => id === edit.id)
      const target = chapters.find(({ id }) => id === edit.chapter)
      if (!moved || !target?.instruments) return dashboard
      const without = where(dashboard, edit.id, (there, place) => there.toSpliced(place, 1))
      return withInstruments(without, edit.chapter, (there) => there.toSpliced(edit.at, 0, moved))
    }
    case 'move-on-phone': {
      const chapter = chapters.find(({ instruments }) => instruments?.some(({ id }) => id === edit.id))
      if (!chapter) return dashboard
      const order = phoneOrder(chapter).map(({ id }) => id)
      const phone = order.filter((id) => id !== edit.id).toSpliced(edit.at, 0, edit.id)
      return { chapters: chapters.map((each) => (each === chapter ? { ...each, phone } : each)) }
    }
  }
}

type Instruments = readonly PlacedInstrument[]

const at = (there: Instruments, place: number): PlacedInstrument => there[place] as PlacedInstrument

const withInstruments = (
  { chapters }: Dashboard,
  chapter: string,
  change: (there: Instruments) => Instruments,
): Dashboard => ({
  chapters: chapters.map((each) =>
    each.id === chapter ? { ...each, instruments: change(each.instruments ?? []) } : each,
  ),
})

/** Changes the chapter that an instrument stands in. */
const where = (
  { chapters }: Dashboard,
  id: string,
  change: (there: Instruments, place: number) => Instruments,
): Dashboard => ({
  chapters: chapters.map((chapter) => {
    const place = chapter.instruments?.findIndex((each) => each.id === id) ?? -1
    return place < 0 || !chapter.instruments
      ? chapter
      : { ...chapter, instruments: change(chapter.instruments, place) }
  }),
})
