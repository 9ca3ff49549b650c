import { programKinds } from './index.ts'
import { messageOf } from './program.ts'

it('sends each field where its pointer says, with what was said last', () => {
  expect(
    messageOf([
      { pointer: '/probes/1/temp', kind: 'number', last: 4.1 },
      { pointer: '/probes/2/temp', kind: 'number' },
      { pointer: '/lid', kind: 'switch' },
      { pointer: '/door', kind: 'switch', last: 1 },
      { pointer: '/place', kind: 'position' },
      { pointer: '/restart', kind: 'momentary' },
    ]),
  ).toEqual({
    probes: { 1: { temp: 4.1 }, 2: { temp: 0 } },
    lid: false,
    door: true,
    place: { lat: 0, lon: 0 },
  })
})

it('has something to send before anybody has described anything', () => {
  expect(messageOf([])).toEqual({ temperature: 21.5 })
})

it('keeps the secret in a file of its own', () => {
  const target = { address: 'shed', url: 'http://10.0.0.2:7600', seconds: 30, sleeps: false, fields: [] }
  for (const { write } of programKinds) {
    const files = write(target, 'SeCrEt')
    expect(files.filter(({ text }) => text.includes('SeCrEt'))).toEqual([
      expect.objectContaining({ isSecret: true }),
    ])
    expect(files.some(({ text }) => text.includes('http://10.0.0.2:7600'))).toBe(true)
  }
})
