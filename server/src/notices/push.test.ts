import { createDecipheriv, createECDH, createHmac, createPublicKey, randomBytes, verify } from 'node:crypto'
import { once } from 'node:events'
import { createServer, type IncomingHttpHeaders } from 'node:http'
import type { AddressInfo } from 'node:net'
import { routes } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, serverUnderTest } from '../testing/serverUnderTest.ts'

const hmac = (key: Buffer, ...pieces: (Buffer | string)[]) => {
  const made = createHmac('sha256', key)
  for (const piece of pieces) made.update(piece)
  return made.digest()
}

/** A browser as the specifications have it (RFC 8291, RFC 8188): its keys, and how it reads what it is pushed. */
function browser() {
  const keys = createECDH('prime256v1')
  keys.generateKeys()
  const auth = randomBytes(16)
  return {
    keys: { p256dh: keys.getPublicKey('base64url'), auth: auth.toString('base64url') },
    read: (body: Buffer): string => {
      const salt = body.subarray(0, 16)
      const idLength = body.readUInt8(20)
      const sender = body.subarray(21, 21 + idLength)
      const secret = keys.computeSecret(sender)
      const info = Buffer.concat([Buffer.from('WebPush: info\0'), keys.getPublicKey(), sender])
      const material = hmac(hmac(auth, secret), info, Buffer.from([1]))
      const random = hmac(salt, material)
      const key = hmac(random, 'Content-Encoding: aes128gcm\0', Buffer.from([1])).subarray(0, 16)
      const nonce = hmac(random, 'Content-Encoding: nonce\0', Buffer.from([1])).subarray(0, 12)
      const cipher = body.subarray(21 + idLength)
      const opened = createDecipheriv('aes-128-gcm', key, nonce).setAuthTag(cipher.subarray(-16))
      const plain = Buffer.concat([opened.update(cipher.subarray(0, -16)), opened.final()])
      // The last record ends in a 2, and zeros after it.
      const end = plain.lastIndexOf(2)
      return plain.subarray(0, end).toString('utf8')
    },
  }
}

interface Pushed {
  readonly headers: IncomingHttpHeaders
  readonly body: Buffer
}

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest({
    config: { mailUrl: 'smtp://127.0.0.1:9', mailFrom: 'sparrow@creamery.example' },
  })
})
afterAll(() => server.close())
const stops: (() => void)[] = []
afterEach(() => {
  for (const stop of stops.splice(0)) stop()
})

/** A push service on loopback that answers so. */
async function pushService(status: number) {
  const pushed: Pushed[] = []
  const service = createServer(async (request, response) => {
    const pieces: Buffer[] = []
    for await (const piece of request) pieces.push(piece)
    pushed.push({ headers: request.headers, body: Buffer.concat(pieces) })
    response.writeHead(status).end()
  }).listen(0, '127.0.0.1')
  stops.push(() => service.close())
  await once(service, 'listening')
  const origin = `http://127.0.0.1:${(service.address() as AddressInfo).port}`
  return { pushed, origin, endpoint: `${origin}/push/abc` }
}
const notices = async () => (await server.owner.call(routes.listNotices, { query: {} })).body
const way = (subscription: { endpoint: string; keys: { p256dh: string; auth: string } }) =>
  server.owner.call(routes.createWay, {
    body: { siteId: null, kind: 'push', name: 'Moira, phone', target: 'a phone', tellings: [], subscription },
  })

it('pushes what the browser alone can read, signed by the key that it was told', async () => {
  const service = await pushService(201)
  const phone = browser()
  const { body: made } = await way({ endpoint: service.endpoint, keys: phone.keys })
  await server.owner.call(routes.testWay, { params: { wayId: made.way.id } })
  const [sent] = await server.owner.until(notices, ([found]) => found?.state === 'sent')
  expect(sent).toMatchObject({ wayKind: 'push', answer: '201 Created' })
  const [{ headers, body } = { headers: {}, body: Buffer.alloc(0) }] = service.pushed
  expect(headers).toMatchObject({ 'content-encoding': 'aes128gcm', ttl: '86400', urgency: 'high' })
  expect(headers.topic).toMatch(/^[A-Za-z0-9_-]{1,32}$/)
  expect(JSON.parse(phone.read(body))).toEqual({
    title: 'Jaunty Sparrow: a test',
    body: 'This is a test: notices of alarms come this way.',
    link: '/guard',
  })
  expect(body.toString('latin1')).not.toContain('Sparrow')
  // RFC 8292: a token that says for whom it is, how long, and whom to ask; signed by the key beside it.
  const [, token = '', key = ''] = /^vapid t=([^,]+), ?k=(.+)$/.exec(headers.authorization ?? '') ?? []
  expect(key).toBe((await server.owner.call(routes.getPushKey)).body.key)
  const point = Buffer.from(key, 'base64url')
  const publicKey = createPublicKey({
    format: 'jwk',
    key: {
      kty: 'EC',
      crv: 'P-256',
      x: point.subarray(1, 33).toString('base64url'),
      y: point.subarray(33).toString('base64url'),
    },
  })
  const [head = '', claims = '', signature = ''] = token.split('.')
  const isSigned = verify(
    'sha256',
    Buffer.from(`${head}.${claims}`),
    { key: publicKey, dsaEncoding: 'ieee-p1363' },
    Buffer.from(signature, 'base64url'),
  )
  expect(isSigned).toBe(true)
  const said = JSON.parse(Buffer.from(claims, 'base64url').toString())
  expect(said).toMatchObject({ aud: service.origin, sub: 'mailto:sparrow@creamery.example' })
  expect(said.exp - Date.now() / 1000).toBeLessThanOrEqual(86_400)
})

it('says so where a browser does not take pushes any more', async () => {
  const service = await pushService(410)
  const { body: made } = await way({ endpoint: service.endpoint, keys: browser().keys })
  await server.owner.call(routes.testWay, { params: { wayId: made.way.id } })
  await server.owner.until(notices, ([found]) => found?.answer.includes('any more') ?? false)
})

it('refuses to push in the clear to elsewhere, and without knowing where', async () => {
  const { keys } = browser()
  const make = (body: object) =>
    server.owner.ask(routes.createWay, {
      body: { siteId: null, kind: 'push', name: 'X', target: 'a phone', tellings: [], ...body },
    })
  expect((await make({ subscription: { endpoint: 'http://push.example/a', keys } })).status).toBe(400)
  expect((await make({})).status).toBe(400)
  expect(
    (await make({ subscription: { endpoint: 'https://push.example/a', keys: { ...keys, auth: 'x' } } }))
      .status,
  ).toBe(400)
})
