import { once } from 'node:events'
import { type LiveFrame, routes, sessionEndedCode } from '@jaunty-sparrow/contract'
import { WebSocket } from 'ws'
import { startServer } from '../server.ts'
import {
  type ServerUnderTest,
  send,
  serverUnderTest,
  TestPerson,
  testConfig,
} from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let token: string
let signal: number

beforeAll(async () => {
  server = await serverUnderTest()
  token = (await server.owner.createDevice('probe')).token
  await send(server.origin, token, { temp: 20 })
  signal = (await server.owner.device('probe')).signals[0]?.id ?? 0
})
afterAll(() => server.close())

const liveUrl = () => `${server.origin.replace('http', 'ws')}/live`
const connect = (headers: Record<string, string>) => new WebSocket(liveUrl(), { headers })

/** The next frame that fits. */
function frame(socket: WebSocket, fits: (frame: LiveFrame) => boolean): Promise<LiveFrame> {
  return new Promise((resolve) => {
    const look = (data: Buffer) => {
      const received: LiveFrame = JSON.parse(String(data))
      if (!fits(received)) return
      socket.off('message', look)
      resolve(received)
    }
    socket.on('message', look)
  })
}

async function subscribed(): Promise<WebSocket> {
  const socket = connect({ Cookie: server.owner.cookie })
  await once(socket, 'open')
  const snapshot = frame(socket, ({ kind }) => kind === 'snapshot')
  socket.send(JSON.stringify({ subscribe: [signal] }))
  expect(await snapshot).toMatchObject({
    signals: [{ signal, readings: [[expect.any(Number), expect.any(Number), expect.any(Number), 0]] }],
  })
  return socket
}

describe('/live', () => {
  it('sends a reading to the page that looks at it', async () => {
    const socket = await subscribed()
    const update = frame(socket, ({ kind }) => kind === 'readings')
    await send(server.origin, token, { temp: 33 })
    expect(await update).toMatchObject({
      signals: [{ signal, readings: [[expect.any(Number), expect.any(Number), 33, 0]] }],
    })
    socket.close()
  })

  it('sends what another server on the same database took in', async () => {
    const neighbour = await startServer(testConfig(server.databaseUrl), {
      webRoot: undefined,
      now: Date.now,
    })
    const socket = await subscribed()
    socket.send(JSON.stringify({ arrivals: true }))
    const reading = frame(socket, ({ kind }) => kind === 'readings')
    const arrivals = frame(socket, ({ kind }) => kind === 'arrivals')
    // Whether the neighbour has heard of us already cannot be seen, so it is sent until it is told of.
    let told = false
    void Promise.all([reading, arrivals]).then(() => {
      told = true
    })
    while (!told) await send(neighbour.url, token, { temp: 44 })
    expect(await reading).toMatchObject({ signals: [{ signal, skipped: 0 }] })
    expect((await arrivals) as object).toHaveProperty('arrivals.0.sender', 'probe')
    socket.close()
    await neighbour.close()
  })

  it('tells the page when there is a new signal to ask for', async () => {
    const socket = await subscribed()
    const told = frame(socket, ({ kind }) => kind === 'changed')
    await send(server.origin, token, { somethingNew: 1 })
    expect(await told).toEqual({ v: 1, kind: 'changed', changes: [{ what: 'device', address: 'probe' }] })
    socket.close()
  })

  it('is closed to who is not signed in, with a code that says so', async () => {
    const [code] = await once(connect({}), 'close')
    expect(code).toBe(sessionEndedCode)
  })

  it('is closed to pages of other sites', async () => {
    const [error] = await once(
      connect({ Cookie: server.owner.cookie, Origin: 'http://elsewhere.example' }),
      'error',
    )
    expect(String(error)).toMatch(/403/)
  })

  it('ends with the session', async () => {
    const { body } = await server.owner.call(routes.createSignInLink)
    const guest = new TestPerson(server.origin)
    await guest.call(routes.signInByLink, { body: { token: body.token } })
    const socket = connect({ Cookie: guest.cookie })
    await once(socket, 'open')
    const closed = once(socket, 'close')
    await guest.call(routes.signOut)
    expect((await closed)[0]).toBe(sessionEndedCode)
  })

  it.each(['nonsense', '{}', '{"subscribe":["x"]}', '[]'])(
    'answers who says %s, and does not hang up',
    async (text) => {
      const socket = connect({ Cookie: server.owner.cookie })
      await once(socket, 'open')
      const problem = frame(socket, ({ kind }) => kind === 'problem')
      socket.send(text)
      expect(await problem).toMatchObject({ v: 1, problem: 'not-understood' })
      const snapshot = frame(socket, ({ kind }) => kind === 'snapshot')
      socket.send(JSON.stringify({ subscribe: [signal] }))
      expect(await snapshot).toMatchObject({ signals: [{ signal }] })
      socket.close()
    },
  )
})

it('answers a page that asks for more signals than it can hear of, and says how many are left out', async () => {
  const socket = connect({ Cookie: server.owner.cookie })
  await once(socket, 'open')
  const full = frame(socket, ({ kind }) => kind === 'problem')
  const wanted = [signal, ...Array.from({ length: 19_999 }, (_, n) => 1_000_000 + n)]
  socket.send(JSON.stringify({ subscribe: wanted }))
  expect(await full).toMatchObject({ problem: 'full', left: 15_000 })
  const update = frame(socket, ({ kind }) => kind === 'readings')
  await send(server.origin, token, { temp: 44 })
  expect(await update).toMatchObject({ signals: [{ signal }] })
  socket.close()
})
