import { encode } from 'cborg'
import { sniffMediaType } from './sniffMediaType.ts'

const ascii = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0))
const sniff = (text: string) => sniffMediaType(ascii(text), text)

describe('sniffMediaType', () => {
  it.each([
    [' {"temp": 1}', 'application/json'],
    ['[{"temp": 1}]', 'application/json'],
    ['[{"bn": "x:", "n": "temp", "v": 1}]', 'application/senml+json'],
    ['[ {"u": "Cel", "v": 1}]', 'application/senml+json'],
    ['21.5', 'text/plain'],
    ['', 'text/plain'],
  ])('takes %j as %s', (text, expected) => {
    expect(sniff(text)).toBe(expected)
  })

  it('tells CBOR by its first byte', () => {
    expect(sniffMediaType(encode({ a: 1 }), '')).toBe('application/cbor')
    expect(sniffMediaType(encode([{ n: 'a' }]), '')).toBe('application/senml+cbor')
  })
})
