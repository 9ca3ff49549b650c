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
