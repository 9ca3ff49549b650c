import { routes } from '@jaunty-sparrow/contract'
import pg from 'pg'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let database: pg.Client
beforeAll(async () => {
  server = await serverUnderTest()
  database = new pg.Client({ connectionString: server.databaseUrl })
  await database.connect()
})
afterAll(async () => {
  await database.end()
  await server.close()
})

const start = Date.UTC(2026, 4, 1)
const whole = { from: start - 1000, to: start + 1e7 }
/** More than one piece holds. */
const many = 12_000
const counts = (n: number) => 1000 + (n % 700)

async function wrongDivider(address: string) {
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: `Kit of ${address}`,
      cadence: null,
      constants: { divider: 10 },
      signals: [
        { field: '/a', name: 'A', kind: 'number', conversion: 'x / divider', range: { low: 0, high: 250 } },
      ],
    },
  })
  const { token } = await owner.createDevice(address, kit.id)
  const [signal] = (await owner.device(address)).signals
  return { address, token, signalId: signal?.id ?? 0, definitionId: signal?.definitionId ?? 0, kitId: kit.id }
}

/** Values and qualities of all that is stored of a signal. */
async function stored(signalId: number): Promise<[number, number][]> {
  const { rows } = await database.query<{ value: number; quality: number }>(
    'select value, quality from reading where signal_id = $1 order by at',
    [signalId],
  )
  return rows.map(({ value, quality }) => [value, quality])
}

it('makes months anew of what was sent by the right formula, shown before, and puts them back to the digit', async () => {
  const { owner } = server
  const { address, token, signalId, kitId } = await wrongDivider('months')
  await owner.call(routes.changeDevice, {
    params: { address },
    body: { messageBytes: 8_000_000, readingsPerMinute: 1_000_000 },
  })
  const backlog = Array.from({ length: many }, (_, n) => ({ t: start + n * 60, a: counts(n) }))
  expect((await send(server.origin, token, backlog)).status).toBe(204)
  const before = await stored(signalId)
  expect(before).toHaveLength(many)

  await owner.call(routes.changeKit, { params: { kitId }, body: { constants: { divider: 4 } } })
  const params = { signalId }
  const { body: preview } = await owner.call(routes.previewRecomputation, { params, query: whole })
  expect(preview.readings).toBe(many)
  expect(preview.points).toHaveLength(200)
  expect(preview.points[0]).toEqual([start, 100, 250])
  expect(await stored(signalId)).toEqual(before)

  const { body: done } = await owner.call(routes.createRecomputation, { params, body: whole })
  expect(done).toMatchObject({ changed: many, isDone: true, conversion: 'x / divider' })
  // Against a slow plain definition.
  const expected = Array.from({ length: many }, (_, n) => [counts(n) / 4, counts(n) / 4 > 250 ? 1 : 0])
  expect(await stored(signalId)).toEqual(expected)
  expect((await owner.device(address)).signals[0]?.latest?.value).toBe(counts(many - 1) / 4)
  const { body: explained } = await owner.call(routes.explainValue, { params, query: { at: start + 5000 } })
  expect(explained.madeAnew).toEqual({ at: done.createdAt, person: done.person })

  const later = { from: start, to: start + 60_000 }
  const { body: second } = await owner.call(routes.createRecomputation, { params, body: later })
  expect(second.changed).toBe(0)
  const undo = (recomputationId: number) =>
    owner.call(routes.undoRecomputation, { params: { signalId, recomputationId } })
  expect((await undo(done.id)).body).toMatchObject({ detail: expect.stringContaining('undo that one first') })
  expect((await undo(second.id)).status).toBe(204)
  expect((await undo(done.id)).status).toBe(204)
  expect(await stored(signalId)).toEqual(before)
  expect((await undo(done.id)).status).toBe(404)
  expect((await owner.call(routes.listRecomputations, { params })).body).toMatchObject([
    { id: second.id, undoneAt: expect.any(Number) },
    { id: done.id, undoneAt: expect.any(Number) },
  ])
})

it('says what to do where the raw value alone does not tell', async () => {
  const { owner } = server
  const { signalId, definitionId } = await wrongDivider('fields')
  await owner.call(routes.changeSignalDefinition, {
    params: { definitionId },
    body: { conversion: 'x + field("/b")' },
  })
  const answer = await owner.call(routes.createRecomputation, { params: { signalId }, body: whole })
  expect(answer).toMatchObject({ status: 409, body: { detail: expect.stringContaining('Read again') } })
})

it('makes a signal anew once at a time', async () => {
  const { owner } = server
  const { token, signalId } = await wrongDivider('twice')
  await send(server.origin, token, { a: 1000 })
  const ask = () => owner.call(routes.createRecomputation, { params: { signalId }, body: whole })
  // One that another server is at.
  await database.query('insert into recomputation (signal_id, from_at, to_at) values ($1, now(), now())', [
    signalId,
  ])
  expect(await ask()).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('wait until that is done') },
  })
  await database.query('update recomputation set done_at = now() where signal_id = $1', [signalId])
  expect((await ask()).status).toBe(201)
})
