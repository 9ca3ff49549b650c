import { Overloaded, Unstorable } from './groupCommit.ts'
import { persist } from './patience.ts'

const failing = (...errors: unknown[]) => {
  let tries = 0
  return {
    store: async () => {
      const error = errors[tries++]
      if (error) throw error
      return 'stored'
    },
    tries: () => tries,
  }
}
const away = Object.assign(new Error('away'), { code: '57P01' })
const always = { tryAgain: async () => true }

it('tries again while the store is away or too much waits', async () => {
  const { store, tries } = failing(away, new Overloaded('too much'), away)
  expect(await persist(store, always)).toBe('stored')
  expect(tries()).toBe(4)
})

it('does not try again what the store will not take, however patient a door is', async () => {
  const odd = failing(new Unstorable('odd'))
  await expect(persist(odd.store, always)).rejects.toThrow('odd')
  expect(odd.tries()).toBe(1)
})

it('gives up when its door does', async () => {
  const { store, tries } = failing(away, away, away)
  let left = 1
  await expect(persist(store, { tryAgain: async () => left-- > 0 })).rejects.toThrow('away')
  expect(tries()).toBe(2)
})
