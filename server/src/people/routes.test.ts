import { request } from 'node:http'
import { routes } from '@jaunty-sparrow/contract'
import pg from 'pg'
import { startServer } from '../server.ts'
import {
  emptyDatabase,
  type ServerUnderTest,
  serverUnderTest,
  TestPerson,
  testConfig,
} from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
const time = { now: Date.now }
beforeAll(async () => {
  server = await serverUnderTest(time)
})
afterEach(() => {
  time.now = Date.now
})
afterAll(() => server.close())

const credential = { name: 'Ines Marlow', password: 'a gate, a goat, a bell' }
const query = async (text: string) => {
  const client = new pg.Client({ connectionString: server.databaseUrl })
  await client.connect()
  const { rows } = await client.query(text)
  await client.end()
  return rows
}

describe('the first run', () => {
  it('makes one owner, even when two come at once, and stops who guesses the password', async () => {
    const databaseUrl = await emptyDatabase()
    const config = testConfig(databaseUrl)
    const fresh = await startServer(config, { webRoot: undefined, now: Date.now })
    const { firstRunToken: token = '' } = fresh
    expect((await new TestPerson(fresh.url).call(routes.getSession)).body).toEqual({ state: 'first-run' })
    const visits = await Promise.all(
      [1, 2].map(() =>
        new TestPerson(fresh.url).call(routes.createOwner, { body: { ...credential, token } }),
      ),
    )
    expect(visits.map(({ status }) => status).sort()).toEqual([201, 409])

    const visitor = new TestPerson(fresh.url)
    for (let attempt = 0; attempt < 10; attempt++) {
      await visitor.call(routes.signIn, { body: { ...credential, password: `guess ${attempt}` } })
    }
    const held = await visitor.call(routes.signIn, { body: credential })
    expect([held.status, Number(held.headers.get('retry-after'))]).toEqual([429, expect.any(Number)])
    await fresh.close()
  })

  it('takes who has the link that was printed, and nobody else, on this machine neither', async () => {
    const fresh = await startServer(testConfig(await emptyDatabase()), { webRoot: undefined, now: Date.now })
    const visitor = new TestPerson(fresh.url)
    const become = async (token: string) =>
      (await visitor.call(routes.createOwner, { body: { ...credential, token } })).status
    expect(await become('')).toBe(403)
    expect(await become('a guess')).toBe(403)
    expect(await become(fresh.firstRunToken ?? '')).toBe(201)
    await fresh.close()
  })

  it('asks for a password of ten characters, by name', async () => {
    const answer = await new TestPerson(server.origin).call(routes.createOwner, {
      body: { name: ' ', password: 'short', token: '' },
    })
    expect(answer.status).toBe(400)
    expect(answer.body).toMatchObject({
      detail: 'name must not be blank; password must have at least 10 characters.',
    })
  })
})

describe('signing in', () => {
  it('takes the right password and gives a cookie that scripts cannot read', async () => {
    const person = new TestPerson(server.origin)
    const answer = await person.call(routes.signIn, { body: credential })
    expect(answer.status).toBe(201)
    expect(answer.headers.getSetCookie()[0]).toMatch(/HttpOnly.*SameSite=Lax/)
    expect((await person.call(routes.listDevices)).status).toBe(200)
  })

  it('says the same of a wrong name and a wrong password', async () => {
    const wrong = await Promise.all(
      [
        { ...credential, password: 'not this one' },
        { ...credential, name: 'Nobody' },
      ].map((body) => new TestPerson(server.origin).call(routes.signIn, { body })),
    )
    expect(wrong.map(({ status, body }) => ({ status, body }))).toEqual([
      { status: 401, body: expect.objectContaining({ detail: 'Name and password do not match.' }) },
      { status: 401, body: expect.objectContaining({ detail: 'Name and password do not match.' }) },
    ])
  })

  it('cannot be stopped by pages of other sites that fail in one’s name, nor where one was before', async () => {
    const person = new TestPerson(server.origin)
    const guess = (headers: Record<string, string>) =>
      person.call(routes.signIn, { body: { ...credential, password: 'not this one' } }, headers)
    for (let n = 0; n < 15; n++)
      expect((await guess({ Origin: 'http://elsewhere.example' })).status).toBe(403)
    expect((await person.call(routes.signIn, { body: credential })).status).toBe(201)
  })

  it('is not misled by a header about who asks, where no proxy was named', async () => {
    const person = new TestPerson(server.origin)
    const statuses = []
    for (let n = 0; n < 12; n++) {
      const body = { name: 'Somebody', password: 'not this one' }
      const headers = { 'X-Forwarded-For': `192.0.2.${n}` }
      statuses.push((await person.call(routes.signIn, { body }, headers)).status)
    }
    expect(statuses.slice(-2)).toEqual([429, 429])
  })

  it('works once by link, and not after a day', async () => {
    const { body: link } = await server.owner.call(routes.createSignInLink)
    const enter = (token: string) =>
      new TestPerson(server.origin).call(routes.signInByLink, { body: { token } })
    expect((await enter(link.token)).status).toBe(201)
    expect((await enter(link.token)).status).toBe(401)
    const { body: late } = await server.owner.call(routes.createSignInLink)
    time.now = () => Date.now() + 86_400_001
    expect((await enter(late.token)).status).toBe(401)
  })
})

describe('a session', () => {
  it('ends when the person signs out, and after thirty days of silence', async () => {
    const guest = new TestPerson(server.origin)
    await guest.call(routes.signIn, { body: credential })
    await guest.call(routes.signOut)
    expect((await guest.call(routes.listDevices)).status).toBe(401)
    await guest.call(routes.signIn, { body: credential })
    time.now = () => Date.now() + 31 * 86_400_000
    expect((await guest.call(routes.listDevices)).status).toBe(401)
  })

  it('lives on while it is used', async () => {
    const guest = new TestPerson(server.origin)
    await guest.call(routes.signIn, { body: credential })
    for (const days of [20, 40, 60]) {
      time.now = () => Date.now() + days * 86_400_000
      expect((await guest.call(routes.listDevices)).status).toBe(200)
    }
  })

  it('changes nothing without its token, nor for a page of another site', async () => {
    const body = { name: 'Shed', timeZone: 'UTC' }
    const without = await server.owner.call(routes.createSite, { body }, { 'X-CSRF-Token': '' })
    const foreign = await server.owner.call(
      routes.createSite,
      { body },
      { Origin: 'http://elsewhere.example' },
    )
    expect([without.status, foreign.status]).toEqual([403, 403])
    expect((await server.owner.call(routes.listSites)).body).toEqual([])
  })
})

describe('what is stored', () => {
  it('holds no secret that could be used', async () => {
    const { secret } = await server.owner.createDevice('vault')
    const { body: link } = await server.owner.call(routes.createSignInLink)
    const dump = JSON.stringify(await query('select * from person, session, sign_in_link, device'))
    for (const plain of [credential.password, secret, link.token, server.owner.cookie.split('=')[1] ?? '-']) {
      expect(dump).not.toContain(plain)
    }
    expect(dump).toContain('$argon2id$')
  })
})

describe('every route that needs a role', () => {
  const guarded = Object.entries(routes).filter(([, { role }]) => role !== 'anyone')
  it.each(guarded)('%s is closed to strangers', async (_, route) => {
    const path = route.path.replaceAll(/\{\w+\}/g, '1')
    const answer = await fetch(server.origin + path, { method: route.method.toUpperCase() })
    expect(answer.status).toBe(401)
  })
})

it('is asked for by its own names only, except by devices', async () => {
  const asked = (path: string, Host: string) =>
    new Promise<number | undefined>((resolve, reject) =>
      request(
        server.origin + path,
        { headers: { Host }, method: path === '/in' ? 'POST' : 'GET' },
        ({ statusCode }) => resolve(statusCode),
      )
        .on('error', reject)
        .end(),
    )
  expect(await asked('/api/session', 'elsewhere.example')).toBe(421)
  expect(await asked('/api/session', 'localhost:1')).toBe(200)
  expect(await asked('/in', 'elsewhere.example')).toBe(401)
})
