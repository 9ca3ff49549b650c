import { routes } from '@jaunty-sparrow/contract'
import { startServer } from '../server.ts'
import {
  type ServerUnderTest,
  send,
  serverUnderTest,
  TestPerson,
  testConfig,
} from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let owner: TestPerson
let token: string
beforeAll(async () => {
  server = await serverUnderTest()
  owner = server.owner
  token = (await owner.createDevice('vat')).token
})
afterAll(() => server.close())

const params = { address: 'vat' }
const preview = async () => (await owner.call(routes.previewRereading, { params })).body
const signal = async (field: string) => {
  const found = (await owner.device('vat')).signals.find((candidate) => candidate.field === field)
  if (!found) throw new Error(`there is no signal for ${field}`)
  return found
}
const values = async (name: string) => {
  const found = (await owner.device('vat')).signals.find((candidate) => candidate.name === name)
  return (await owner.values('vat', found?.field ?? '')).map(([, value]) => value)
}

it('finds nothing to change where nothing was put right', async () => {
  const start = Date.now() - 60_000
  for (let n = 0; n < 5; n++) await send(server.origin, token, { top: n, bottom: 100 + n, t: start + n })
  await send(server.origin, token, { top: 0, bottom: 100, t: start })
  expect(await preview()).toMatchObject({ messages: 6, signals: [] })
})

it('changes readings in place after two fields were mixed up, and back again', async () => {
  const top = await signal('/top')
  const bottom = await signal('/bottom')
  const change = (definitionId: number, body: object) =>
    owner.call(routes.changeSignalDefinition, { params: { definitionId }, body })
  await change(top.definitionId, { state: 'accepted', name: 'Top' })
  await change(bottom.definitionId, { state: 'accepted', name: 'Bottom' })
  for (const [definitionId, field] of [
    [top.definitionId, '/passing'],
    [bottom.definitionId, '/top'],
    [top.definitionId, '/bottom'],
  ] as const)
    expect((await change(definitionId, { field })).status).toBe(204)

  const shown = await preview()
  expect(shown.signals).toHaveLength(2)
  expect(shown.signals.find(({ signalId }) => signalId === top.id)).toMatchObject({
    added: 0,
    changed: 5,
    removed: 0,
    examples: [{ before: 0, after: 100 }, { before: 1, after: 101 }, {}],
  })
  expect(await values('Top')).toEqual([0, 1, 2, 3, 4])

  const { body: done } = await owner.call(routes.createRereading, { params, body: { upTo: shown.upTo } })
  expect(done).toMatchObject({ messages: 6, added: 0, changed: 10, removed: 0, undoneAt: null })
  expect(await values('Top')).toEqual([100, 101, 102, 103, 104])
  expect(await values('Bottom')).toEqual([0, 1, 2, 3, 4])
  expect((await signal('/bottom')).latest?.value).toBe(104)
  expect((await preview()).signals).toEqual([])

  expect((await owner.call(routes.undoRereading, { params: { rereadingId: done.id } })).status).toBe(204)
  expect(await values('Top')).toEqual([0, 1, 2, 3, 4])
  expect((await owner.call(routes.undoRereading, { params: { rereadingId: done.id } })).status).toBe(404)
  expect((await owner.call(routes.listRereadings, { params })).body).toMatchObject([
    { id: done.id, undoneAt: expect.any(Number) },
  ])
})

it('brings back what was ignored when it came, and removes what a field no longer says', async () => {
  const start = Date.now() - 30_000
  await send(server.origin, token, { extra: 1, t: start })
  const extra = await signal('/extra')
  const change = (body: object) =>
    owner.call(routes.changeSignalDefinition, { params: { definitionId: extra.definitionId }, body })
  await change({ state: 'ignored' })
  await send(server.origin, token, { extra: 2, t: start + 1 })
  await change({ state: 'accepted' })
  expect((await preview()).signals.find(({ signalId }) => signalId === extra.id)).toMatchObject({
    added: 1,
    removed: 0,
  })
  await change({ field: '/elsewhere' })
  expect((await preview()).signals.find(({ signalId }) => signalId === extra.id)).toMatchObject({
    added: 0,
    removed: 1,
  })
})

it('leaves no ghost as the latest where it removes the newest reading, here or on another server', async () => {
  const { token: own } = await owner.createDevice('ghost')
  const other = await startServer(
    { ...testConfig(server.databaseUrl), serverName: 'other' },
    { webRoot: undefined, now: Date.now },
  )
  const there = new TestPerson(other.url)
  there.cookie = owner.cookie
  const start = Date.now() - 60_000
  await send(server.origin, own, { wrong: 1, t: start })
  await send(server.origin, own, { wrong: 2, t: start + 1000 })
  const ofGhost = async (person: TestPerson) => (await person.device('ghost')).signals[0]
  const known = await ofGhost(owner)
  // From now on it is read from another field, so what was stored of it goes.
  await owner.call(routes.changeSignalDefinition, {
    params: { definitionId: known?.definitionId ?? 0 },
    body: { state: 'accepted', name: 'Right', field: '/right' },
  })
  const ghost = { params: { address: 'ghost' } }
  const { body: shown } = await owner.call(routes.previewRereading, ghost)
  const { body: done } = await owner.call(routes.createRereading, { ...ghost, body: { upTo: shown.upTo } })
  expect(done).toMatchObject({ removed: 2 })
  expect((await ofGhost(owner))?.latest).toBeNull()
  const seenThere = await there.until(
    () => ofGhost(there),
    (found) => found?.latest === null,
  )
  expect(seenThere?.latest).toBeNull()
  await other.close()
})
