import { presenceOf, signalPresence, silentFrom } from './presence.ts'

const now = Date.UTC(2026, 10, 1)
const ago = (seconds: number) => now - seconds * 1000
const every = (seconds: number) => ({ by: 'always', seconds }) as const
const asleep = (seconds: number) => ({ by: 'sleep', seconds }) as const

it.each([
  [null, every(2), 'never'],
  [ago(7), every(2), 'on-time'],
  [ago(7.1), every(2), 'late'],
  [ago(40), every(2), 'late'],
  [ago(40.1), every(2), 'silent'],
  [ago(3), asleep(600), 'on-time'],
  [ago(500), asleep(600), 'asleep'],
  [ago(1204), asleep(600), 'late'],
  [ago(3031), asleep(600), 'silent'],
  [ago(1e6), { by: 'event' } as const, 'on-time'],
  [ago(1e6), null, 'on-time'],
])('heard at %p by a cadence of %j is %s', (heardAt, cadence, expected) => {
  expect(presenceOf(heardAt, now, cadence)).toBe(expected)
})

it('falls silent when it says so', () => {
  const from = silentFrom(now, every(30)) as number
  expect(presenceOf(now, from, every(30))).toBe('late')
  expect(presenceOf(now, from + 1, every(30))).toBe('silent')
  expect(silentFrom(now, { by: 'event' })).toBeNull()
})

it('tells a dead probe on a living board, and lets a door contact rest as long as its board is there', () => {
  expect(signalPresence('on-time', ago(300), now, every(2))).toBe('silent')
  expect(signalPresence('on-time', ago(300), now, { by: 'event' })).toBe('on-time')
  expect(signalPresence('silent', ago(300), now, { by: 'event' })).toBe('silent')
  expect(signalPresence('on-time', null, now, every(2))).toBe('never')
})
