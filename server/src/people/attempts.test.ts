import { Attempts } from './attempts.ts'

const minute = 60_000
let now: number
let attempts: Attempts
beforeEach(() => {
  now = 0
  attempts = new Attempts(() => now)
})
const fail = (account: string, address: string, times: number) => {
  for (let n = 0; n < times; n++) attempts.failed({ account, address })
}

it('lets nobody guess on, and lets go after a while', () => {
  const owner = { account: 'Ines', address: '192.0.2.1' }
  fail('Ines', '192.0.2.1', 9)
  expect(attempts.wait(owner)).toBe(0)
  fail('Ines', '192.0.2.1', 1)
  expect(attempts.wait(owner)).toBe(120)
  now += 2 * minute
  expect(attempts.wait(owner)).toBe(0)
})

it('holds back one address that tries many accounts, and one account that is tried from many addresses', () => {
  for (let n = 0; n < 60; n++) fail(`person ${n}`, '192.0.2.1', 1)
  expect(attempts.wait({ account: 'Ines', address: '192.0.2.1' })).toBeGreaterThan(0)
  expect(attempts.wait({ account: 'Ines', address: '192.0.2.2' })).toBe(0)
  for (let n = 0; n < 200; n++) fail('Ines', `198.51.100.${n}`, 1)
  expect(attempts.wait({ account: 'Ines', address: '192.0.2.2' })).toBeGreaterThan(0)
})

it('does not let strangers lock out who has signed in before', () => {
  const home = { account: 'Ines', address: '192.0.2.2' }
  attempts.succeeded(home)
  for (let n = 0; n < 500; n++) fail('Ines', `198.51.100.${n % 250}`, 1)
  expect(attempts.wait(home)).toBe(0)
  fail('Ines', '192.0.2.2', 10)
  expect(attempts.wait(home)).toBeGreaterThan(0)
})
