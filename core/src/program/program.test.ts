import { cppMessage } from './cppMessage.ts'
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

const mqtt = { host: '10.0.0.2', port: 1883, isEncrypted: false }
const target = {
  address: 'shed',
  url: 'http://10.0.0.2:7600',
  mqtt,
  seconds: 30,
  sleeps: false,
  fields: [],
  controlled: [],
  guards: false,
}

it('keeps the secret in a file of its own', () => {
  for (const { key, write } of programKinds) {
    const files = write(target, 'SeCrEt')
    // A cable needs neither.
    if (key === 'cpp-serial') continue
    expect(files.filter(({ text }) => text.includes('SeCrEt'))).toEqual([
      expect.objectContaining({ isSecret: true }),
    ])
    expect(files.some(({ text }) => text.includes('10.0.0.2'))).toBe(true)
  }
})

it('writes names that C++ takes, each once, and the open end of an object', () => {
  const fields = [
    { pointer: '/2/a b', kind: 'number' as const, last: 1 },
    { pointer: '/2/a_b', kind: 'number' as const, last: 2 },
    { pointer: '/double', kind: 'switch' as const },
    { pointer: '/°', kind: 'text' as const, last: 'a "b" \\' },
  ]
  const sketch = cppMessage(fields)
  for (const line of [
    'double value_2_a_b = 1;',
    'double value_2_a_b_2 = 2;',
    'bool double_ = false;',
    'const char* value = "a \\"b\\" \\\\";',
  ])
    expect(sketch).toContain(line)
  expect(sketch).not.toMatch(/print\(F\(".*}"\)\);\n}$/)
})
