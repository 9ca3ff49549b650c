import fc from 'fast-check'
import { decodeJson as decodeText } from './decodeJson.ts'

const decodeJson = (text: string) => decodeText(text, 0)

describe('decodeJson', () => {
  it('reads an object as one record, nested members by their JSON Pointer', () => {
    expect(decodeJson('{"temperature":21.5,"probes":{"top":1},"list":[true],"t":5}')).toEqual([
      {
        time: 5,
        fields: [
          { pointer: '/temperature', value: 21.5 },
          { pointer: '/probes/top', value: 1 },
          { pointer: '/list/0', value: true },
        ],
      },
    ])
  })

  it('takes only the outermost t as the time', () => {
    expect(decodeJson('{"probe":{"t":7}}')).toEqual([{ fields: [{ pointer: '/probe/t', value: 7 }] }])
  })

  it('reads an array of objects as a backlog', () => {
    expect(decodeJson('[{"a":1},{"a":2}]')).toHaveLength(2)
  })

  it('escapes member names as RFC 6901 asks', () => {
    expect(decodeJson('{"a/b":{"m~n":0}}')).toEqual([{ fields: [{ pointer: '/a~1b/m~0n', value: 0 }] }])
  })

  it.each(['NaN', 'nan', '-inf', 'Infinity', '-nan'])('lets %s spoil only its own field', (token) => {
    expect(decodeJson(`{"bad":${token},"text":"nan","good":1}`)).toEqual([
      {
        fields: [
          { pointer: '/bad', value: { notANumber: token } },
          { pointer: '/text', value: 'nan' },
          { pointer: '/good', value: 1 },
        ],
      },
    ])
  })

  it.each([
    ['{"temp": }', /a value was expected at line 1, column 10, near `{"temp": }`/],
    ['{"temp": 1\n "hum": 2}', /a comma was expected at line 2, column 2/],
    ['{temp: 1}', /line 1, column 2/],
    ['', /body is empty/],
    ['[1]', /entry 1 of the array is a number/],
    ['"hello"', /it is a string/],
    ['null', /it is null/],
    [`${'{"a":'.repeat(12)}1${'}'.repeat(12)}`, /nested more than 8 levels/],
  ])('says where %s went wrong', (text, expected) => {
    expect(decodeJson(text)).toEqual({ failure: expect.stringMatching(expected) })
  })

  it('answers any text with records or a failure, and never throws', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.json(),
          fc.json().map((text) => text.slice(1)),
        ),
        (text) => {
          const decoded = decodeJson(text)
          expect('failure' in decoded ? decoded.failure : decoded).toBeTruthy()
        },
      ),
      { numRuns: 2000 },
    )
  })

  it('is not led astray by a member called __proto__', () => {
    expect(decodeJson('{"__proto__":{"polluted":1}}')).toEqual([
      { fields: [{ pointer: '/__proto__/polluted', value: 1 }] },
    ])
    expect('polluted' in {}).toBe(false)
  })
})
