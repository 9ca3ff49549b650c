import { decodeJson } from './decodeJson.ts'
import type { FieldRecord } from './field.ts'
import { interpret, unknownFields } from './interpret.ts'
import { Quality } from './reading.ts'
import type { DeviceSignal, SignalDefinition } from './signal.ts'

const now = Date.UTC(2026, 10, 1, 12)

const define = (field: string, over: Partial<SignalDefinition> = {}): [string, DeviceSignal] => [
  field,
  {
    signal: field.length,
    definition: {
      id: 1,
      name: field,
      field,
      kind: 'number',
      state: 'accepted',
      unit: null,
      range: { low: null, high: null },
      keep: { by: 'every' },
      ...over,
    },
  },
]
const signals = new Map([
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
    [{ temp: '21.5' }, /send 21.5 without quotes/],
    [{ temp: null }, /leave the field out/],
    [{ temp: true }, /is a number, but true was sent/],
    [{ switch: 2 }, /is a switch: send true or false/],
    [{ nobody: 'x' }, /no signal is read from the field "nobody"/],
    [{ temp: 1, t: '2099-01-01T00:00:00Z' }, /more than 5 minutes in the future/],
    [{ temp: 1, t: 0 }, /clock is not set/],
    [{ temp: 1, t: 'noon' }, /ISO 8601/],
    [{ temp: 1, t: Number.MAX_VALUE }, /in the future/],
  ])('says why %j is refused', (body, expected) => {
    expect(reasons(body)).toEqual([{ field: expect.any(String), reason: expect.stringMatching(expected) }])
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
  it('finds each number and switch nobody has described, once', () => {
    expect(unknownFields(records([{ a: 1, b: true, c: 'text', temp: 3 }, { a: 2 }]), signals)).toEqual([
      { pointer: '/a', kind: 'number', unit: null },
      { pointer: '/b', kind: 'switch', unit: null },
    ])
  })
})
