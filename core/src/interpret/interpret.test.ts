import { decodeJson } from '../message/decodeJson.ts'
import type { FieldRecord } from '../message/field.ts'
import { Quality } from '../signal/reading.ts'
import { type DeviceSignal, type SignalDefinition, usualSettings } from '../signal/signal.ts'
import { SignalMap } from '../signal/signalMap.ts'
import { interpret } from './interpret.ts'
import { unknownFields } from './unknownFields.ts'

const now = Date.UTC(2026, 10, 1, 12)

const define = (field: string, over: Partial<SignalDefinition> = {}): DeviceSignal => ({
  signal: field.length,
  part: '',
  own: [],
  definition: {
    ...usualSettings,
    id: 1,
    name: field,
    field,
    kind: 'number',
    origin: 'measured',
    state: 'accepted',
    choices: [],
    ...over,
  },
})
const signals = new SignalMap([
  define('/temp', { range: { low: -40, high: 60 } }),
  define('/switch', { kind: 'switch' }),
  define('/ignored', { state: 'ignored' }),
])
const records = (body: unknown): readonly FieldRecord[] => {
  const decoded = decodeJson(JSON.stringify(body), now)
  if ('failure' in decoded) throw new Error(decoded.failure)
  return decoded
}
const reasons = (body: unknown) => interpret(records(body), () => signals, now).refused

describe('interpret', () => {
  it('stores what it understands, measured when it came in unless the message says otherwise', () => {
    expect(interpret(records({ temp: 21.5, switch: true }), () => signals, now)).toEqual({
      readings: [
        { signal: 5, at: now, receivedAt: now, value: 21.5, quality: Quality.good },
        { signal: 7, at: now, receivedAt: now, value: 1, quality: Quality.good },
      ],
      refused: [],
    })
    const [reading] = interpret(records({ temp: 1, t: now - 5000 }), () => signals, now).readings
    expect(reading).toMatchObject({ at: now - 5000, receivedAt: now })
  })

  it('marks a value beyond the range of the sensor and keeps it', () => {
    expect(interpret(records({ temp: 85 }), () => signals, now).readings).toMatchObject([
      { value: 85, quality: Quality.beyondRange },
    ])
  })

  it('refuses a field by itself, and loses nothing beside it', () => {
    const { readings, refused } = interpret(records({ temp: 'warm', switch: 0 }), () => signals, now)
    expect(readings).toHaveLength(1)
    expect(refused).toEqual([{ field: '/temp', reason: expect.stringContaining('the text "warm" was sent') }])
  })

  it.each([
    [{ temp: '6,61' }, /decimal comma: send 6.61/],
    [{ 'temp\u0000': 1 }, /its name holds a control character/],
    [{ 'temp\ud800': 1 }, /half of a character/],
    [{ ['x'.repeat(9000)]: 1 }, /its name is longer than 200 characters/],
    [{ '': 1 }, /it has no name/],
    [{ temp: '9007199254740993' }, /more digits than a number can hold/],
    [{ temp: null }, /leave the field out/],
    [{ temp: true }, /is a number, but true was sent/],
    [{ switch: 2 }, /is a switch: send true or false/],
    [{ nobody: null }, /no signal is read from the field "nobody"/],
    [{ temp: 1, t: '2099-01-01T00:00:00Z' }, /more than 5 minutes in the future/],
    [{ temp: 1, t: 0 }, /clock is not set/],
    [{ temp: 1, t: 'noon' }, /ISO 8601/],
    [{ temp: 1, t: Number.MAX_VALUE }, /in the future/],
  ])('says why %j is refused', (body, expected) => {
    expect(reasons(body)).toEqual([{ field: expect.any(String), reason: expect.stringMatching(expected) }])
  })

  it('takes a number that was sent as text for the number', () => {
    expect(interpret(records({ temp: ' 21.5' }), () => signals, now).readings).toMatchObject([
      { value: 21.5 },
    ])
    expect(unknownFields(records({ new: '-3e2', nan: 'nan' }), signals)).toEqual([
      { pointer: '/new', kind: 'number', unit: null },
    ])
  })

  it('tells a refused field so that it can be shown and stored, whatever its name', () => {
    const { refused } = interpret(records({ [`bad\u0000${'x'.repeat(9000)}`]: 1 }), () => signals, now)
    expect(refused[0]?.field).toMatch(/^\/bad\uFFFDx+…$/)
    expect(refused[0]?.field).toHaveLength(200)
  })

  it('accepts a clock that is a little ahead, at most five minutes', () => {
    expect(reasons({ temp: 1, t: now + 300_000 })).toEqual([])
    expect(reasons({ temp: 1, t: now + 300_001 })).toHaveLength(1)
  })

  it('names the entry of a backlog that was refused', () => {
    expect(reasons([{ temp: 1 }, { temp: 'x' }])).toMatchObject([{ field: '/1/temp' }])
  })

  it('takes one value for one instant, and says where a backlog contradicts itself', () => {
    const body = [{ temp: 1, switch: 1 }, { temp: 1 }, { temp: 2 }, { temp: 2, t: now - 1 }]
    const { readings, refused } = interpret(records(body), () => signals, now)
    expect(readings.map(({ at, value }) => [at, value])).toEqual([
      [now, 1],
      [now, 1],
      [now, 1],
      [now - 1, 2],
    ])
    expect(refused).toEqual([
      { field: '/2/temp', reason: expect.stringMatching(/says 1 for the same instant already/) },
    ])
  })

  it('lets pass what was chosen to be ignored, whatever it holds', () => {
    expect(interpret(records({ ignored: 'anything' }), () => signals, now)).toEqual({
      readings: [],
      refused: [],
    })
  })
})

describe('unknownFields', () => {
  it('finds each field nobody has described, once, and what kind of signal it looks like', () => {
    const body = [
      { a: 1, b: true, c: 'running', temp: 3, at: { lat: 53.1, lon: -6.2 } },
      { a: 2, empty: ' ', none: null, long: 'x'.repeat(121), nan: 'nan' },
    ]
    expect(unknownFields(records(body), signals)).toEqual([
      { pointer: '/a', kind: 'number', unit: null },
      { pointer: '/b', kind: 'switch', unit: null },
      { pointer: '/c', kind: 'text', unit: null },
      { pointer: '/at', kind: 'position', unit: null },
    ])
  })

  it('finds that a field is no text after all, as long as nobody has accepted that it is', () => {
    const text = (state: 'suggested' | 'accepted') =>
      new SignalMap([define('/w', { id: 9, kind: 'text', state })])
    expect(unknownFields(records({ w: 21.5 }), text('suggested'))).toEqual([
      { pointer: '/w', kind: 'number', unit: null, insteadOf: 9 },
    ])
    expect(unknownFields(records({ w: 'still' }), text('suggested'))).toEqual([])
    expect(unknownFields(records({ w: 21.5 }), text('accepted'))).toEqual([])
  })

  it('knows a further part where one definition stands for all, up to 64', () => {
    const ofAll = define('/probes/{part}/temp', { id: 7 }).definition
    const probe = (part: number): DeviceSignal => ({
      signal: part,
      part: String(part),
      own: [],
      definition: ofAll,
    })
    const body = records({ probes: { 1: { temp: 4 }, 2: { temp: 5, humidity: 40 } } })
    expect(unknownFields(body, new SignalMap([probe(1)], [ofAll]))).toEqual([
      { pointer: '/probes/2/temp', kind: 'number', unit: null, part: { definition: 7, name: '2' } },
      { pointer: '/probes/2/humidity', kind: 'number', unit: null },
    ])
    const full = new SignalMap(
      Array.from({ length: 64 }, (_, n) => probe(n + 100)),
      [ofAll],
    )
    expect(unknownFields(body, full)).toEqual([{ pointer: '/probes/2/humidity', kind: 'number', unit: null }])
    expect(interpret(body, () => full, now).refused[0]?.reason).toBe(
      'this device already has 64 parts of "/probes/{part}/temp"; "1" would be one more',
    )
  })
})

describe('signals of every kind', () => {
  const choices = [
    { code: 0, name: 'idle' },
    { code: 4, name: 'Washing down' },
  ]
  const every = new SignalMap([
    {
      ...define('/raw', { conversion: 'x * 0.1 - 40', range: { low: 0, high: 50 } }),
      signal: 1,
    },
    { ...define('/raw'), signal: 2 },
    { ...define('/state', { kind: 'choice', choices }), signal: 3 },
    { ...define('/says', { kind: 'text' }), signal: 4 },
    { ...define('/box', { kind: 'position' }), signal: 5 },
    { ...define('/press', { kind: 'momentary', origin: 'controlled' }), signal: 6 },
  ])
  const read = (body: object) => interpret(records(body), () => every, now)
  const values = (body: object) => read(body).readings.map(({ signal, value }) => [signal, value])

  it('may read one field together, one of them converted, which keeps what was sent', () => {
    expect(read({ raw: 615 }).readings).toEqual([
      { signal: 1, at: now, receivedAt: now, value: 21.5, raw: 615, quality: Quality.good },
      { signal: 2, at: now, receivedAt: now, value: 615, quality: Quality.good },
    ])
  })

  it.each([
    [{ state: 'washing DOWN' }, [[3, 4]]],
    [{ state: 4 }, [[3, 4]]],
    [{ state: '0' }, [[3, 0]]],
    [{ says: 'door ajar' }, [[4, 'door ajar']]],
    [{ says: 12 }, [[4, '12']]],
    [{ box: { type: 'Point', coordinates: [-6.2, 53.1] } }, [[5, { lat: 53.1, lon: -6.2 }]]],
  ])('understands %j', (body, expected) => {
    expect(values(body)).toEqual(expected)
  })

  it.each([
    [
      { state: 'sleeping' },
      /"sleeping" is none of the states of this signal: idle \(0\), Washing down \(4\)/,
    ],
    [{ says: 'a\u0007' }, /the text holds a control character/],
    [{ says: 'x'.repeat(1001) }, /the text is longer than 1000 characters/],
    [{ box: 5 }, /is a position: send \{"lat": 53.1, "lon": -6.2\}, not 5/],
    [{ raw: { lat: 1, lon: 2 } }, /a number, but a position was sent \(1, 2\)/],
    [{ press: 1 }, /can only be triggered/],
  ])('says why %j is refused', (body, reason) => {
    expect(read(body).refused[0]?.reason).toMatch(reason)
  })
})

describe('quality', () => {
  const judged = new SignalMap([
    define('/temp', {
      range: { low: -40, high: 60 },
      greatestRate: 0.5,
      faults: [{ value: 85, name: 'just powered on' }],
    }),
  ])
  const bits = (body: object, last?: { at: number; value: number; quality: number }) =>
    interpret(
      records(body),
      () => judged,
      now,
      undefined,
      () => last,
    ).readings.map(({ quality }) => quality)
  const at = (seconds: number) => now + seconds * 1000

  it('is of a fault alone, where the value means one', () => {
    expect(bits({ temp: 85 }, { at: at(-1), value: 20, quality: 0 })).toEqual([Quality.atFault])
  })

  it('is of a fault by what was sent, whatever a conversion makes of it', () => {
    const sentInTenths = new SignalMap([
      define('/temp', {
        conversion: 'x * 0.1',
        faults: [{ value: 850, name: 'just powered on' }],
      }),
    ])
    const { readings } = interpret(records({ temp: 850 }), () => sentInTenths, now)
    expect(readings).toMatchObject([{ value: 850, raw: 850, quality: Quality.atFault }])
  })

  it('is too fast beside the reading before it in its message, else beside the last one, if that is older', () => {
    expect(bits({ temp: 30 }, { at: at(-10), value: 20, quality: 0 })).toEqual([Quality.tooFast])
    expect(bits({ temp: 25 }, { at: at(-10), value: 20, quality: 0 })).toEqual([Quality.good])
    expect(bits({ temp: 30 }, { at: at(10), value: 20, quality: 0 })).toEqual([Quality.good])
    expect(bits({ temp: 30 }, { at: at(-10), value: 85, quality: Quality.atFault })).toEqual([Quality.good])
    const backlog = [
      { t: at(-100), temp: 1 },
      { t: at(-90), temp: 99 },
      { t: at(-80), temp: 99 },
    ]
    expect(bits(backlog, { at: at(-101), value: 40, quality: 0 })).toEqual([
      Quality.tooFast,
      Quality.tooFast | Quality.beyondRange,
      Quality.beyondRange,
    ])
  })

  it('doubts a clock that runs ahead, and our own where we say so', () => {
    expect(bits({ temp: 1, t: at(120) })).toEqual([Quality.clockDoubted])
    expect(bits({ temp: 1, t: at(30) })).toEqual([Quality.good])
    const doubted = { from: 0, to: at(300), isOwnClockDoubted: true }
    const read = interpret(records([{ temp: 1 }, { temp: 1, t: at(-5) }]), () => judged, now, doubted)
    expect(read.readings.map(({ quality }) => quality)).toEqual([Quality.clockDoubted, Quality.good])
  })
})
