import { type Findable, found } from './findable.ts'

const item = (name: string, what: string): Findable => ({ key: `${name} ${what}`, name, what, to: '/' })
const all = [
  item('Cave 1', 'Brackenfold Creamery'),
  item('Temperature', 'Cave 1'),
  item('Temperature', 'Milk vat'),
  item('Vat', 'Annex'),
]

it.each([
  ['', 4],
  ['cave', 2],
  ['temp vat', 1],
  ['vat temp', 1],
  ['TEMP cave', 1],
  ['ave', 0],
  ['temperature nowhere', 0],
])('"%s" finds %i', (typed, count) => {
  expect(found(all, typed, 10)).toHaveLength(count)
})

it('puts first what begins with what was typed, and gives no more than is wanted', () => {
  expect(found(all, 'vat', 10).map(({ name }) => name)).toEqual(['Vat', 'Temperature'])
  expect(found(all, '', 2)).toHaveLength(2)
})
