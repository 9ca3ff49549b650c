import { decode } from './message.ts'
import { looksGarbled, messageOfLine } from './serialLine.ts'

const bytes = (text: string) => new TextEncoder().encode(text)
const fields = (line: string, header: string | null = null) => {
  const message = messageOfLine(bytes(line), header)
  const decoded = message && decode(message, 0)
  return decoded && !('failure' in decoded) ? decoded : undefined
}

it('takes a line for what it looks like', () => {
  expect(fields('{"a": 1}')).toMatchObject([{ fields: [{ pointer: '/a', value: 1 }] }])
  expect(fields('a=1 b=2\r')).toMatchObject([{ fields: [{ pointer: '/a' }, { pointer: '/b' }] }])
  expect(fields('1777636800,21.5', 't,temp')).toMatchObject([
    { time: 1777636800, fields: [{ pointer: '/temp', value: 21.5 }] },
  ])
  expect(fields('21.5', 'temp')).toMatchObject([{ fields: [{ pointer: '/temp', value: 21.5 }] }])
  expect(messageOfLine(bytes(' \r'), null)).toBeUndefined()
})

it('knows noise from text', () => {
  expect(looksGarbled(bytes('{"temperature": 21.5, "humidity": 48}\r\n'))).toBe(false)
  expect(looksGarbled(Uint8Array.from({ length: 64 }, (_, n) => (n * 89) % 256))).toBe(true)
  expect(looksGarbled(Uint8Array.of(0, 255, 0))).toBe(false)
})
