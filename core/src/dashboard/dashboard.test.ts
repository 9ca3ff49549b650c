import fc from 'fast-check'
import type { Chapter, Dashboard, PlacedInstrument } from './dashboard.ts'
import { type Edit, edited } from './edit.ts'
import { phoneOrder } from './phoneOrder.ts'
import { placed } from './resolve.ts'
import { redone, stepped, undoable, undone } from './undo.ts'

const value = { kind: 'value', importance: 'normal' } as const
const instrument = (id: string): PlacedInstrument => placed(id, value, [{ signal: 1 }])
const chapter = (id: string, ids: readonly string[]): Chapter => ({
  id,
  title: id,
  repeat: null,
  instruments: ids.map(instrument),
  phone: null,
})
const page: Dashboard = { chapters: [chapter('a', ['1', '2', '3']), chapter('b', ['4'])] }
const orderOf = ({ chapters }: Dashboard) =>
  chapters.map(({ id, instruments }) => `${id}: ${instruments?.map((each) => each.id).join(' ')}`)

it('moves instruments within a chapter and into another', () => {
  expect(orderOf(edited(page, { do: 'move', id: '1', chapter: 'a', at: 2 }))).toEqual(['a: 2 3 1', 'b: 4'])
  expect(orderOf(edited(page, { do: 'move', id: '3', chapter: 'a', at: 0 }))).toEqual(['a: 3 1 2', 'b: 4'])
  expect(orderOf(edited(page, { do: 'move', id: '2', chapter: 'b', at: 0 }))).toEqual(['a: 1 3', 'b: 2 4'])
})

it('adds, duplicates, changes and takes away', () => {
  expect(orderOf(edited(page, { do: 'duplicate', id: '2', as: '9' }))).toEqual(['a: 1 2 9 3', 'b: 4'])
  expect(orderOf(edited(page, { do: 'remove', id: '4' }))).toEqual(['a: 1 2 3', 'b: '])
  expect(orderOf(edited(page, { do: 'add', chapter: 'b', instruments: [instrument('5')] }))).toEqual([
    'a: 1 2 3',
    'b: 4 5',
  ])
  const changed = edited(page, { do: 'change', id: '2', to: { importance: 'full' } })
  expect(changed.chapters[0]?.instruments?.map(({ importance }) => importance)).toEqual([
    'normal',
    'full',
    'normal',
  ])
})

it('makes, moves and takes away chapters', () => {
  expect(orderOf(edited(page, { do: 'move-chapter', id: 'b', at: 0 }))).toEqual(['b: 4', 'a: 1 2 3'])
  expect(orderOf(edited(page, { do: 'remove-chapter', id: 'a' }))).toEqual(['b: 4'])
  expect(orderOf(edited(page, { do: 'add-chapter', chapter: chapter('c', []), at: 1 }))[1]).toBe('c: ')
})

it('changes nothing where what is named is not there any more', () => {
  for (const edit of [
    { do: 'remove', id: 'x' },
    { do: 'move', id: 'x', chapter: 'a', at: 0 },
    { do: 'move', id: '1', chapter: 'x', at: 0 },
    { do: 'move-chapter', id: 'x', at: 0 },
    { do: 'move-on-phone', id: 'x', at: 0 },
    { do: 'duplicate', id: 'x', as: '9' },
  ] satisfies Edit[])
    expect(edited(page, edit)).toEqual(page)
})

it('keeps what was set for a kind when an instrument becomes another and back', () => {
  const set = edited(page, { do: 'change', id: '1', to: { settings: { value: { spark: false } } } })
  const other = edited(set, { do: 'change', id: '1', to: { kind: 'scale' } })
  const back = edited(other, { do: 'change', id: '1', to: { kind: 'value' } })
  expect(back.chapters[0]?.instruments?.[0]?.settings).toEqual({ value: { spark: false } })
})

describe('the order on a phone', () => {
  const phoneOf = (dashboard: Dashboard) =>
    phoneOrder(dashboard.chapters[0] as Chapter)
      .map(({ id }) => id)
      .join(' ')

  it('is that of the desk until somebody makes another one', () => {
    expect(phoneOf(page)).toBe('1 2 3')
    const own = edited(page, { do: 'move-on-phone', id: '3', at: 0 })
    expect(phoneOf(own)).toBe('3 1 2')
    expect(orderOf(own)[0]).toBe('a: 1 2 3')
  })

  it('takes in what is new after what it follows on the desk, and passes over what is gone', () => {
    const own = edited(page, { do: 'move-on-phone', id: '3', at: 0 })
    expect(phoneOf(edited(own, { do: 'duplicate', id: '1', as: '9' }))).toBe('3 1 9 2')
    expect(phoneOf(edited(own, { do: 'remove', id: '1' }))).toBe('3 2')
  })

  it('always holds each instrument of the desk exactly once', () => {
    const ids = fc.uniqueArray(fc.integer({ min: 0, max: 20 }).map(String), { maxLength: 12 })
    fc.assert(
      fc.property(ids, ids, (desk, phone) => {
        const order = phoneOrder({ ...chapter('a', desk), phone }).map(({ id }) => id)
        expect([...order].sort()).toEqual([...desk].sort())
        expect(order.filter((id) => phone.includes(id))).toEqual(phone.filter((id) => desk.includes(id)))
      }),
    )
  })
})

it('goes back and on through any steps, and ends where it would have without', () => {
  fc.assert(
    fc.property(fc.array(fc.oneof(fc.nat(5), fc.constantFrom('undo', 'redo'))), (steps) => {
      let done = undoable(0)
      // A slow plain definition: all that was, and where one stands in it.
      let all = [0]
      let at = 0
      for (const step of steps) {
        if (step === 'undo') {
          done = undone(done)
          at = Math.max(0, at - 1)
        } else if (step === 'redo') {
          done = redone(done)
          at = Math.min(all.length - 1, at + 1)
        } else if (step !== all[at]) {
          done = stepped(done, step as number)
          all = [...all.slice(0, at + 1), step as number]
          at++
        } else done = stepped(done, step as number)
        expect(done.present).toBe(all[at])
      }
    }),
  )
})
