import { encode } from 'cborg'
import { guessMediaType } from './guessMediaType.ts'
import { decode } from './message.ts'

const utf8 = (text: string) => new TextEncoder().encode(text)
const form = 'application/x-www-form-urlencoded'

describe('guessMediaType', () => {
  it.each([
    [' {"temp": 1}', '', 'application/json'],
    ['\uFEFF{"temp": 1}', '', 'application/json'],
    ['[{"temp": 1}]', '', 'application/json'],
    ['[{"bn": "x:", "n": "temp", "v": 1}]', '', 'application/senml+json'],
    ['[ {"n": "temp", "u": "Cel", "v": 1}]', '', 'application/senml+json'],
    // Objects that happen to have a member `v`, `t`, `u` or `n`.
    ['[{"t": 1777636800, "temperature": 20, "v": 3.3}]', '', 'application/json'],
    ['[{"u": 230, "v": 3.3}]', '', 'application/json'],
    ['[{"v": 3.3}]', '', 'application/json'],
    ['[{"n": 4, "v": 3.3}]', '', 'application/json'],
    ['[{"n": "a", "v": 3.3, "vb": true}]', '', 'application/json'],
    ['[{"n": "temp"}]', '', 'application/json'],
    ['[{"n": "temp", "u": 5, "v": 1}]', '', 'application/json'],
    ['[{"n": "temp", "v": "1"}]', '', 'application/json'],
    ['[{"n": "temp", "v": 1}', '', 'application/json'],
    ['21.5', '', 'text/plain'],
    ['', '', 'text/plain'],
    ['temp=21.5, rh = 48', '', 'text/x.pairs'],
    ['temp=21.5', 'probes', 'text/x.pairs'],
    ['a=1&b=2', '', form],
    ['t,temp\n1777636800,21.5\n', '', 'text/csv'],
    ['temp;rh\r\n21.5;48', '', 'text/csv'],
    ['temp\n21.5', '', 'text/csv'],
    ['21.5\n', '', 'text/plain'],
    ['1,2\n3,4', '', 'text/plain'],
    ['temp\n21.5', 'note', 'text/plain'],
    ['bGV2ZWw=', 'note', 'text/plain'],
  ])('takes %j, sent to %j, as %s', (text, tail, expected) => {
    expect(guessMediaType(utf8(text), tail)).toBe(expected)
  })

  it('tells CBOR by its first byte, and SenML in it by what it holds', () => {
    expect(guessMediaType(encode({ a: 1 }))).toBe('application/cbor')
    expect(guessMediaType(encode([{ a: 1 }]))).toBe('application/cbor')
    expect(
      guessMediaType(
        encode([
          new Map<number, unknown>([
            [0, 'a'],
            [2, 1],
          ]),
        ]),
      ),
    ).toBe('application/senml+cbor')
    expect(guessMediaType(encode([{ t: 1, v: 3.3, temp: 20 }]))).toBe('application/cbor')
    expect(guessMediaType(Uint8Array.of(0xd9, 0xd9, 0xf7, ...encode({ a: 1 })))).toBe('application/cbor')
  })

  it('loses nothing of an array that only looks like a pack', () => {
    const body = utf8('[{"t": 1777636800, "temperature": 20, "v": 3.3}]')
    expect(decode({ mediaType: '', body }, 0)).toEqual([
      {
        time: 1777636800,
        fields: [
          { pointer: '/temperature', value: 20 },
          { pointer: '/v', value: 3.3 },
        ],
      },
    ])
  })
})
