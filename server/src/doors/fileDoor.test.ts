import { routes } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, send, serverUnderTest, type TestPerson } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let owner: TestPerson
let token: string
beforeAll(async () => {
  server = await serverUnderTest()
  owner = server.owner
  token = (await owner.createDevice('logger')).token
})
afterAll(() => server.close())

const bring = (text: string, mediaType: 'text/csv' | 'application/senml+json' = 'text/csv') =>
  owner.call(routes.importFile, { params: { address: 'logger' }, body: { mediaType, text } })

const start = Date.now() - 3_000_000

it('stores a piece once, tells what was there already, and names the rows it refused', async () => {
  const piece = `t,/probes/top,/rh\n${start},6.4,48\n${start + 1},6.5,\n${start + 2},6.6,wet`
  const first = await bring(piece)
  expect(first.body).toMatchObject({
    stored: 4,
    alreadyThere: 0,
    refused: [{ field: '/2/rh', reason: expect.stringContaining('"wet"') }],
    refusedTotal: 1,
  })
  expect((await bring(`${piece}\n${start + 3},6.7,49`)).body).toMatchObject({ stored: 2, alreadyThere: 4 })
  expect((await owner.values('logger', '/probes/top')).map(([, value]) => value)).toEqual([
    6.4, 6.5, 6.6, 6.7,
  ])
  expect(await owner.arrival(({ door }) => door === 'file')).toMatchObject({ deviceId: expect.any(Number) })
})

it('reads SenML', async () => {
  const pack = [
    { bn: 'rh', bt: Math.floor(start / 1000) - 100, v: 40 },
    { t: 1, v: 41 },
  ]
  expect((await bring(JSON.stringify(pack), 'application/senml+json')).body).toMatchObject({ stored: 2 })
})

it('counts what came beside it for nobody else', async () => {
  const [piece] = await Promise.all([
    bring(`t,/rh\n${start + 10},1\n${start + 11},2`),
    ...Array.from({ length: 20 }, (_, n) => send(server.origin, token, { rh: n, t: start + 100 + n })),
  ])
  expect(piece.body).toMatchObject({ stored: 2, alreadyThere: 0 })
})

it('is held to no limit, and tells nothing of how often the device speaks', async () => {
  const { token: quiet } = await owner.createDevice('quiet')
  await owner.limit('quiet', { messagesPerMinute: 1, readingsPerMinute: 1 })
  await send(server.origin, quiet, { n: 0 })
  for (let n = 0; n < 5; n++) {
    const text = `t,/n\n${Array.from({ length: 500 }, (_, row) => `${start + n * 500 + row},${row}`).join('\n')}`
    const answer = await owner.call(routes.importFile, {
      params: { address: 'quiet' },
      body: { mediaType: 'text/csv', text },
    })
    expect(answer.body).toMatchObject({ stored: 500 })
  }
  expect((await owner.device('quiet')).cadence).toBeNull()
})

it.each([
  ['nothing but a header', 't,a', /no rows/],
  ['no CSV at all', '"', /no rows/],
])('says what is wrong with %s', async (_, text, detail) => {
  expect((await bring(text)).body).toMatchObject({ detail: expect.stringMatching(detail) })
})

describe('a whole file, as a program sends it', () => {
  const put = (text: string, query = '') =>
    fetch(`${server.origin}/api/devices/logger/file${query}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'text/csv', Cookie: owner.cookie, 'X-CSRF-Token': owner.csrfToken },
      body: text,
    }).then(async (answer) => ({
      status: answer.status,
      body: (await answer.json()) as Record<string, unknown> & { detail?: string },
    }))

  it('is stored with its plan in the query, and says how it was read', async () => {
    const text =
      'Logger 4711\n\nWhen;Top;Level\n01.05.2026 12:00;6,4;1.250\nsoon;6,5;1\n01.05.2026 12:01;6,6;NA\n'
    const query = '?zone=%2B01:00&columns=time,/top,/level&timeFormat=day-first'
    expect((await put(text, query)).body.detail).toMatch(/column "Level".*point=thousands or decimals/)
    const answer = await put(text, `${query}&point=thousands`)
    expect(answer).toMatchObject({
      status: 200,
      body: {
        stored: 3,
        refused: [{ line: 5, reason: expect.stringContaining('"soon"') }],
        refusedTotal: 1,
        reading: { zone: '+01:00', decimal: ',', linesAbove: 2, columns: 'time,/top,/level' },
      },
    })
    const [signal] = (await owner.device('logger')).signals.filter(({ field }) => field === '/level')
    expect(signal?.latest).toMatchObject({ at: Date.parse('2026-05-01T11:00:00Z'), value: 1250 })
    expect((await put(text, `${query}&point=thousands`)).body).toMatchObject({ stored: 0, alreadyThere: 3 })
  })

  it('may be older than any board’s clock that was never set', async () => {
    const answer = await put('time,old\n1972-02-29 12:00,1\n1999-12-31 24:00,2\n', '?zone=Europe/Dublin')
    expect(answer.body).toMatchObject({ stored: 2, refusedTotal: 0 })
    const old = (await owner.device('logger')).signals.find(({ field }) => field === '/old')
    expect(old?.latest).toMatchObject({ at: Date.parse('2000-01-01T00:00:00Z'), value: 2 })
  })

  it('is divided by what was stated, where it looks otherwise', async () => {
    const answer = await put('time,where;deep\n2026-05-02T11:00:00Z;7\n', '?delimiter=%3B&columns=time,/deep')
    expect(answer.body).toMatchObject({ stored: 1, refusedTotal: 0, reading: { delimiter: ';' } })
  })

  it('says which line contradicts what is stored, and that it was let be', async () => {
    const answer = await put('time,top\n2026-05-01T11:00:00Z,7\n2026-05-01T11:05:00Z,7\n')
    expect(answer.body).toMatchObject({
      stored: 1,
      refused: [{ line: 2, reason: expect.stringContaining('6.4 is stored for this instant already') }],
    })
  })

  it.each([
    ['', /is empty/],
    ['a,b\n1,2\n', /No column looks like a time/],
    ['time,a\n01/02/2026 12:00,2\n', /Day and month/],
    ['[{"n": 1}', /JSON array/],
  ])('%j is refused in words', async (text, detail) => {
    expect(await put(text)).toMatchObject({ status: 400, body: { detail: expect.stringMatching(detail) } })
  })
})
