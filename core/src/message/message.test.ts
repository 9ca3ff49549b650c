import { encode } from 'cborg'
import fc from 'fast-check'
import type { FieldRecord } from './field.ts'
import { decode, mediaTypes } from './message.ts'

const now = Date.UTC(2026, 10, 1, 12)
const bytes = (text: string): Uint8Array =>
  Uint8Array.from(Array.from(unescape(encodeURIComponent(text)), (letter) => letter.charCodeAt(0)))
const read = (mediaType: string, body: string | Uint8Array, tail?: string) =>
  decode(
    { mediaType, body: typeof body === 'string' ? bytes(body) : body, ...(tail !== undefined && { tail }) },
    now,
  )
const hex = (text: string): Uint8Array =>
  Uint8Array.from(text.replaceAll(/\s/g, '').match(/../g) ?? [], (byte) => Number.parseInt(byte, 16))
const field = (pointer: string, value: unknown, unit?: string) => ({ pointer, value, ...(unit && { unit }) })

describe('SenML in JSON, by the examples of RFC 8428', () => {
  const senml = (pack: unknown) => read('application/senml+json', JSON.stringify(pack))

  it('5.1.1, a single data point', () => {
    expect(senml([{ n: 'urn:dev:ow:10e2073a01080063', u: 'Cel', v: 23.1 }])).toEqual([
      { time: now, fields: [field('/urn:dev:ow:10e2073a01080063', 23.1, 'Cel')] },
    ])
  })

  it('5.1.2, several data points with a base name', () => {
    const pack = [
      { bn: 'urn:dev:ow:10e2073a01080063:', n: 'voltage', u: 'V', v: 120.1 },
      { n: 'current', u: 'A', v: 1.2 },
    ]
    expect(senml(pack)).toEqual([
      { time: now, fields: [field('/urn:dev:ow:10e2073a01080063:voltage', 120.1, 'V')] },
      { time: now, fields: [field('/urn:dev:ow:10e2073a01080063:current', 1.2, 'A')] },
    ])
  })

  it('5.1.2, with a base time and times around it', () => {
    const pack = [
      {
        bn: 'urn:dev:ow:10e2073a0108006:',
        bt: 1.276020076001e9,
        bu: 'A',
        bver: 5,
        n: 'voltage',
        u: 'V',
        v: 120.1,
      },
      { n: 'current', t: -5, v: 1.2 },
      { n: 'current', t: -4, v: 1.3 },
    ]
    expect(senml(pack)).toEqual([
      { time: 1.276020076001e9, fields: [field('/urn:dev:ow:10e2073a0108006:voltage', 120.1, 'V')] },
      { time: 1.276020071001e9, fields: [field('/urn:dev:ow:10e2073a0108006:current', 1.2, 'A')] },
      { time: 1.276020072001e9, fields: [field('/urn:dev:ow:10e2073a0108006:current', 1.3, 'A')] },
    ])
  })

  it('5.1.3, times relative to now', () => {
    const pack = [
      { bn: 'urn:dev:ow:10e2073a01080063', u: '%RH', v: 21.2 },
      { t: -10, v: 21.3 },
    ]
    expect(senml(pack)).toEqual([
      { time: now, fields: [field('/urn:dev:ow:10e2073a01080063', 21.2, '%{RH}')] },
      { time: now - 10_000, fields: [field('/urn:dev:ow:10e2073a01080063', 21.3)] },
    ])
  })

  it('5.1.4, every kind of value', () => {
    const pack = [
      { bn: 'urn:dev:ow:10e2073a01080063:', n: 'temp', u: 'Cel', v: 23.1 },
      { n: 'label', vs: 'Machine Room' },
      { n: 'open', vb: false },
      { n: 'nfc-reader', vd: 'aGkgCg' },
    ]
    const fields = (senml(pack) as readonly FieldRecord[]).flatMap((record) =>
      record.fields.map(({ value }) => value),
    )
    expect(fields).toEqual([23.1, 'Machine Room', false, 'aGkgCg'])
  })

  it.each([
    [[{ n: 'a', v: 1, t: '2026-11-01T11:59:00Z' }], '2026-11-01T11:59:00Z'],
    [[{ n: 'a', v: '1', t: '-60' }], now - 60_000],
    [[{ bn: 'a', bt: '1777636800', v: 1, t: 'noon' }], 'noon'],
  ])('%j: a time as text is read, or left to be refused', (pack, time) => {
    expect(senml(pack)).toEqual([{ time, fields: [field('/a', 1)] }])
  })

  it('refuses base values that are none', () => {
    expect(senml([{ bn: 'a', bt: 'noon', v: 1 }])).toEqual({
      failure: expect.stringContaining('"noon" as "bt"'),
    })
  })

  it('adds base values and base sums', () => {
    expect(
      senml([
        { bn: 'm', bv: 100, bs: 5, v: 1, n: 'a' },
        { n: 'b', s: 2 },
      ]),
    ).toMatchObject([{ fields: [field('/ma', 101)] }, { fields: [field('/mb/sum', 7)] }])
    expect(senml([{ n: 'meter', s: 7 }])).toMatchObject([{ fields: [field('/meter/sum', 7)] }])
  })

  it.each([
    [{ n: 'x', v: 1 }, /is an array of records/],
    [[{ n: 'x', v: 1, bver: 11 }], /version 11/],
    [[{ n: 'x', v: 1, must_: 1 }], /"must_", which must be understood/],
    [[{ n: ' bad', v: 1 }], /begins with a letter or digit/],
  ])('refuses %j in words', (pack, expected) => {
    expect(senml(pack)).toEqual({ failure: expect.stringMatching(expected) })
  })
})

describe('SenML in CBOR', () => {
  it('reads the example of RFC 8428, section 6', () => {
    // The bytes of figure 3, the pack of section 5.1.2 with its base time.
    const pack =
      hex(`87 a7 21 78 1b 75 72 6e 3a 64 65 76 3a 6f 77 3a 31 30 65 32 30 37 33 61 30 31 30 38 30 30 36 3a
      22 fb 41 d3 03 a1 5b 00 10 62 23 61 41 20 05 00 67 76 6f 6c 74 61 67 65 01 61 56 02 fb 40 5e 06 66 66 66 66 66
      a3 00 67 63 75 72 72 65 6e 74 06 24 02 fb 3f f3 33 33 33 33 33 33
      a3 00 67 63 75 72 72 65 6e 74 06 23 02 fb 3f f4 cc cc cc cc cc cd
      a3 00 67 63 75 72 72 65 6e 74 06 22 02 fb 3f f6 66 66 66 66 66 66
      a3 00 67 63 75 72 72 65 6e 74 06 21 02 f9 3e 00
      a3 00 67 63 75 72 72 65 6e 74 06 20 02 fb 3f f9 99 99 99 99 99 9a
      a3 00 67 63 75 72 72 65 6e 74 06 00 02 fb 3f fb 33 33 33 33 33 33`)
    const records = read('application/senml+cbor', pack)
    expect(records).toHaveLength(7)
    expect(records).toMatchObject([
      { fields: [field('/urn:dev:ow:10e2073a0108006:voltage', 120.1, 'V')] },
      { fields: [field('/urn:dev:ow:10e2073a0108006:current', 1.2, 'A')] },
      ...[1.3, 1.4, 1.5, 1.6, 1.7].map((value) => ({
        fields: [field('/urn:dev:ow:10e2073a0108006:current', value, 'A')],
      })),
    ])
  })
})

describe('the other formats', () => {
  it('CBOR is read like JSON, with its numbers that are none', () => {
    expect(read('application/cbor', encode({ t: 5, a: { b: 1.5 }, ok: true, bad: Number.NaN }))).toEqual([
      { time: 5, fields: [field('/a/b', 1.5), field('/ok', true), field('/bad', { notANumber: 'NaN' })] },
    ])
    expect(read('application/cbor', hex('a1 61 78 c4 82 21 19 6a b3'))).toEqual([
      { fields: [field('/x', 273.15)] },
    ])
    expect(read('application/cbor', hex('a1 61'))).toEqual({ failure: expect.stringMatching(/is not CBOR/) })
  })

  it('a form is one record', () => {
    expect(
      read('application/x-www-form-urlencoded', 't=1777636800&temp=21.5&pump=true&note=a+b&bad=nan'),
    ).toEqual([
      {
        time: 1777636800,
        fields: [
          field('/temp', 21.5),
          field('/pump', true),
          field('/note', 'a b'),
          field('/bad', { notANumber: 'nan' }),
        ],
      },
    ])
    expect(read('application/x-www-form-urlencoded', '{"temp": 1}')).toEqual({
      failure: expect.stringMatching(/Content-Type: application\/json/),
    })
  })

  it('CSV has a header, a time column, and empty cells that are no values', () => {
    const expected = [
      { time: '2026-05-01T12:00:00Z', fields: [field('/temp', 21.5), field('/door "a"', true)] },
      { time: '2026-05-01T12:01:00Z', fields: [field('/temp', 21.6)] },
    ]
    expect(
      read(
        'text/csv',
        '\uFEFFtime,temp,"door ""a"""\r\n2026-05-01T12:00:00Z,21.5,true\r\n2026-05-01T12:01:00Z,21.6,\r\n',
      ),
    ).toEqual(expected)
    expect(
      read(
        'text/csv',
        'time;temp;"door ""a"""\n2026-05-01T12:00:00Z;21.5;true\n2026-05-01T12:01:00Z;21.6;\n',
      ),
    ).toEqual(expected)
    expect(read('text/csv', 'temp\n')).toEqual({ failure: expect.stringMatching(/holds no rows/) })
    expect(read('text/csv', 'a,b\n1,2,3')).toEqual({
      failure: expect.stringMatching(/Line 2 of the CSV has 3 cells/),
    })
  })

  it('a bare value is named by where it was sent to', () => {
    expect(read('text/plain', ' 21.5\n', 'probes/top')).toEqual([{ fields: [field('/probes/top', 21.5)] }])
    expect(read('application/x-www-form-urlencoded', '21.5', 'temp')).toEqual([
      { fields: [field('/temp', 21.5)] },
    ])
    expect(read('application/json', '{"top":1}', 'probes')).toEqual([{ fields: [field('/probes/top', 1)] }])
    expect(read('text/plain', '21.5')).toEqual({ failure: expect.stringMatching(/needs a field/) })
  })

  it('text that is not UTF-8 is refused', () => {
    expect(read('application/json', hex('7b 22 ff 22 3a 31 7d'))).toEqual({
      failure: expect.stringMatching(/not UTF-8/),
    })
  })

  it('an unknown media type is nobody’s', () => {
    expect(read('image/png', 'x')).toBeUndefined()
  })

  it('any bytes have an outcome, whatever they are said to be', () => {
    const body = fc.oneof(
      fc.uint8Array({ maxLength: 200 }),
      fc.string({ unit: 'binary' }).map(bytes),
      fc.json().map(bytes),
      fc.anything({ maxDepth: 3 }).map((value) => {
        try {
          return encode(value)
        } catch {
          return new Uint8Array()
        }
      }),
    )
    fc.assert(
      fc.property(
        fc.constantFrom(...mediaTypes),
        body,
        fc.constantFrom('', 'temp', 'a/b'),
        (mediaType, content, tail) => {
          const decoded = read(mediaType, content, tail)
          if (decoded === undefined) throw new Error('a listed media type is read')
          if ('failure' in decoded) expect(decoded.failure.length).toBeGreaterThan(10)
          else for (const record of decoded) expect(Array.isArray(record.fields)).toBe(true)
        },
      ),
      { numRuns: 100_000 },
    )
  }, 120_000)
})

describe('what says itself what it is', () => {
  it('is read with a byte order mark', () => {
    expect(read('application/json', '\uFEFF{"a": 1}')).toEqual([{ fields: [field('/a', 1)] }])
    expect(read('', '\uFEFFa=1')).toEqual([{ fields: [field('/a', 1)] }])
  })

  it('knows the tags of CBOR that say what time, big number or CBOR it is (RFC 8949, section 3.4)', () => {
    const tagged = [
      ['c0 74 323031332d30332d32315432303a30343a30305a', '2013-03-21T20:04:00Z'],
      ['c1 1a 514b67b0', 1363896240],
      ['c3 41 04', -5],
    ] as const
    for (const [content, value] of tagged)
      expect(read('application/cbor', hex(`d9d9f7 a1 61 61 ${content}`))).toEqual([
        { fields: [field('/a', value)] },
      ])
    // 2^64 is held exactly, 2^64 + 1 is not.
    expect(read('application/cbor', hex('a1 61 61 c2 49 010000000000000000'))).toEqual([
      { fields: [field('/a', 2 ** 64)] },
    ])
    expect(read('application/cbor', hex('a1 61 61 c2 49 010000000000000001'))).toEqual([
      { fields: [field('/a', { tooManyDigits: '18446744073709551617' })] },
    ])
  })

  it('loses no member because of its name', () => {
    expect(read('application/cbor', encode(new Map([['__proto__', { b: 1 }]])))).toEqual([
      { fields: [field('/__proto__/b', 1)] },
    ])
    expect(read('application/json', '{"__proto__": {"b": 1}}')).toEqual([
      { fields: [field('/__proto__/b', 1)] },
    ])
  })

  it('tells of whole numbers that a double would round', () => {
    const values = (text: string) =>
      (read('application/json', text) as FieldRecord[])[0]?.fields.map((f) => f.value)
    expect(
      values('{"a": 9007199254740993, "b": 9007199254740994, "c": 1e17, "d": 0.12345678901234567890}'),
    ).toEqual([{ tooManyDigits: '9007199254740993' }, 9007199254740994, 1e17, 0.12345678901234568])
  })

  it('reads ovf, which boards print for a number that does not fit', () => {
    expect(read('application/json', '{"a": ovf, "b": 1}')).toEqual([
      { fields: [field('/a', { notANumber: 'ovf' }), field('/b', 1)] },
    ])
  })
})
