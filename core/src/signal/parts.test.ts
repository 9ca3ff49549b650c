import { fieldOfPart, hasParts, partIn } from './parts.ts'

const field = '/probes/{part}/temperature'

it('finds the part in a field, and the field of a part', () => {
  expect(hasParts(field)).toBe(true)
  expect(partIn(field, '/probes/28-ff/temperature')).toBe('28-ff')
  expect(partIn(field, fieldOfPart(field, 'a/b'))).toBe('a/b')
})

it.each(['/probes/1/humidity', '/probes/1', '/probes/1/temperature/raw', '/other/1/temperature'])(
  'takes %s for no part of it',
  (pointer) => {
    expect(partIn(field, pointer)).toBeUndefined()
  },
)

it('stands for parts only where a whole segment says so', () => {
  expect(hasParts('/probes/{part}s')).toBe(false)
  expect(partIn('/plain', '/plain')).toBeUndefined()
})
