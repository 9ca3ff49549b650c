import { routes, type Total } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

const minute = 60_000
const hour = 60 * minute
/** The last summer day of London and the first two of its winter. */
const start = Date.UTC(2026, 9, 23, 23)
const end = Date.UTC(2026, 9, 27)

let server: ServerUnderTest
let temperature: number
let door: number
let box: number
beforeAll(async () => {
  server = await serverUnderTest({ now: () => end })
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Cave',
      cadence: null,
      signals: [
        {
          field: '/temperature',
          name: 'Temperature',
          kind: 'number',
          faults: [{ value: 85, name: 'just powered on' }],
        },
        { field: '/door', name: 'Door', kind: 'switch' },
        { field: '/place', name: 'Place', kind: 'position' },
      ],
    },
  })
  const { token } = await owner.createDevice('cave', kit.id)
  const [site] = (await owner.call(routes.listSites)).body
  await owner.call(routes.changeSite, {
    params: { siteId: site?.id ?? 0 },
    body: { timeZone: 'Europe/London' },
  })
  const { signals } = await owner.device('cave')
  ;[temperature = 0, door = 0, box = 0] = signals.map(({ id }) => id)
  await send(
    server.origin,
    token,
    readings.map(({ at, value }) => ({ temperature: value, t: at })),
  )
  await send(
    server.origin,
    token,
    opened.map(([at, isOpen]) => ({ door: isOpen === 1, t: at })),
  )
  await send(server.origin, token, [
    { place: { lat: 51.5, lon: -0.1 }, t: start },
    { place: { lat: 51.6, lon: -0.2 }, t: start + hour },
  ])
})
afterAll(() => server.close())

const readings = Array.from({ length: 600 }, (_, n) => ({
  at: start + n * 7 * minute,
  value: n % 97 === 0 ? 85 : 10 + (n % 13) / 2,
}))
const opened: [number, number][] = [
  [start + 2 * hour, 1],
  [start + 3 * hour, 0],
  // Open over the night in which the clock is put back.
  [Date.UTC(2026, 9, 24, 20), 1],
  [Date.UTC(2026, 9, 26, 5), 0],
]

const totalsOf = async (signal: number): Promise<readonly Total[]> => {
  const { body } = await server.owner.call(routes.getTotals, {
    query: { signals: String(signal), from: start, to: end, by: 'day' },
  })
  return body[0]?.totals ?? []
}

it.each([
  [
    'Europe/London',
    ['2026-10-24T00:00+01:00', '2026-10-25T00:00+01:00', '2026-10-26T00:00Z', '2026-10-27T00:00Z'],
  ],
  [
    'Asia/Kathmandu',
    ['2026-10-24T00:00+05:45', '2026-10-25T00:00+05:45', '2026-10-26T00:00+05:45', '2026-10-27T00:00+05:45'],
  ],
])('days in %s are what their readings come to', async (timeZone, midnights) => {
  const [site] = (await server.owner.call(routes.listSites)).body
  await server.owner.call(routes.changeSite, { params: { siteId: site?.id ?? 0 }, body: { timeZone } })
  const totals = await totalsOf(temperature)
  const starts = midnights.map((midnight) => Date.parse(midnight))
  for (const [index, from] of starts.slice(0, -1).entries()) {
    const to = starts[index + 1] ?? 0
    const own = readings.filter(({ at }) => at >= from && at < to)
    const counted = own.filter(({ value }) => value !== 85)
    const sum = counted.reduce((total, { value }) => total + value, 0)
    const lowest = Math.min(...counted.map(({ value }) => value))
    expect(totals.find((total) => total.from === from)).toMatchObject({
      to,
      count: counted.length,
      voids: own.length - counted.length,
      mean: expect.closeTo(sum / counted.length, 9),
      lowest: [counted.find(({ value }) => value === lowest)?.at, lowest],
      first: [counted[0]?.at, counted[0]?.value],
      last: [counted.at(-1)?.at, counted.at(-1)?.value],
    })
  }
})

it('a state is held across midnight, also of the day that has 25 hours', async () => {
  const [site] = (await server.owner.call(routes.listSites)).body
  await server.owner.call(routes.changeSite, {
    params: { siteId: site?.id ?? 0 },
    body: { timeZone: 'Europe/London' },
  })
  const held = (await totalsOf(door)).map(({ changes, lasted }) => [
    changes,
    Object.fromEntries(lasted.map(([state, ms]) => [state, ms / hour])),
  ])
  expect(held).toEqual([
    [2, { 0: 18, 1: 4 }],
    [0, { 1: 25 }],
    [1, { 0: 19, 1: 5 }],
  ])
})

it('tells where something was, day by day', async () => {
  const [day] = await totalsOf(box)
  expect(day?.count).toBe(2)
  expect(day?.places).toEqual({
    first: [start, 51.5, -0.1],
    last: [start + hour, 51.6, -0.2],
    south: 51.5,
    north: 51.6,
    west: -0.2,
    east: -0.1,
  })
})

it('tells what everything said last at an instant', async () => {
  const signals = [temperature, door, box].join()
  const at = start + 30 * minute
  const then = async (instant: number) =>
    (await server.owner.call(routes.getReadingsAt, { query: { signals, at: instant } })).body
  expect(await then(at)).toEqual([
    { signal: temperature, at: start + 28 * minute, receivedAt: expect.any(Number), value: 12, quality: 0 },
    { signal: box, at: start, receivedAt: expect.any(Number), value: { lat: 51.5, lon: -0.1 }, quality: 0 },
  ])
  expect((await then(start + 150 * minute)).map(({ value }) => value)).toContainEqual(1)
  expect(await then(start - 1)).toEqual([])
})

describe('the last readings', () => {
  const last = async (query: { from?: number; to: number; most: number }, signal = temperature) =>
    (await server.owner.call(routes.getLastReadings, { query: { signals: String(signal), ...query } })).body

  it('are the very last up to an instant, the oldest first', async () => {
    const to = start + 30 * minute
    const before = readings.filter(({ at }) => at <= to)
    expect((await last({ to, most: 3 })).map(({ at, value }) => ({ at, value }))).toEqual(before.slice(-3))
    expect(await last({ to: start - 1, most: 3 })).toEqual([])
  })

  it('stand for a whole span where there are more than are asked for', async () => {
    const span = readings.filter(({ at }) => at > start && at <= start + 2 * hour)
    expect(span).toHaveLength(17)
    const told = await last({ from: start, to: start + 2 * hour, most: 6 })
    expect(told.map(({ at }) => at)).toEqual(
      span
        .reverse()
        .filter((_, place) => place % 3 === 0)
        .map(({ at }) => at)
        .reverse(),
    )
  })

  it('are of any kind', async () => {
    const places = await last({ to: end, most: 5 }, box)
    expect(places.map(({ value }) => value)).toEqual([
      { lat: 51.5, lon: -0.1 },
      { lat: 51.6, lon: -0.2 },
    ])
  })
})

it('refuses a span of too many days', async () => {
  const { status, body } = await server.owner.call(routes.getTotals, {
    query: { signals: '1', from: Date.UTC(1900, 0), to: end, by: 'day' },
  })
  expect(status).toBe(400)
  expect(JSON.stringify(body)).toContain('shorter span')
})
