import { Obedience } from './obedience.ts'

const told = (id: number, value: unknown, signal = 'lamp/red') => ({ id, value, signal, until: 1000 })
const board = (misses = 0) =>
  new Obedience({ slowness: 10, misses, stuck: ['fan'], buttons: ['restart'] }, () => 0.5)

it('does what it is told, and says so of itself from then on', () => {
  const obedience = board()
  expect(obedience.obey(told(1, 40), 500)).toEqual({ id: 1, says: 'done', value: 40 })
  expect(obedience.applied({ lamp: { red: 10, blue: 3 } }, 600)).toEqual({ lamp: { red: 40, blue: 3 } })
  // After half an hour it goes its own way again.
  expect(obedience.applied({ lamp: { red: 10 } }, 500 + 31 * 60_000)).toEqual({ lamp: { red: 10 } })
})

it('obeys nothing twice, and answers what came again', () => {
  const obedience = board()
  obedience.obey(told(7, 40), 500)
  obedience.obey(told(8, 60), 500)
  expect(obedience.obey(told(7, 40), 500)).toMatchObject({ id: 7, says: 'done' })
  expect(obedience.applied({}, 600)).toEqual({ lamp: { red: 60 } })
})

it('answers what is late as expired, what is triggered without a value, and what it misses or has stuck not at all', () => {
  expect(board().obey(told(1, 40), 1001)).toEqual({ id: 1, says: 'expired' })
  expect(board().obey(told(1, 1, 'restart'), 500)).toEqual({ id: 1, says: 'done' })
  expect(board().obey(told(1, true, 'fan'), 500)).toBeUndefined()
  expect(board(0.6).obey(told(1, 40), 500)).toBeUndefined()
})
