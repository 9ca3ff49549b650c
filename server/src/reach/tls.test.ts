import { once } from 'node:events'
import { readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { connect } from 'node:tls'
import { routes } from '@jaunty-sparrow/contract'
import { pino } from 'pino'
import { WebSocket } from 'ws'
import { type RunningServer, startServer } from '../server.ts'
import { localAuthority } from '../testing/localAuthority.ts'
import { run } from '../testing/run.ts'
import { emptyDatabase, TestPerson, testConfig } from '../testing/serverUnderTest.ts'
import { Certificates } from './certificates.ts'

let folder: string
let authority: string
let server: RunningServer
let owner: TestPerson
let device: { address: string; secret: string; token: string }

beforeAll(async () => {
  folder = await localAuthority(undefined, 'creamery.test')
  authority = join(folder, 'authority.crt')
  server = await startServer(
    { ...testConfig(await emptyDatabase()), authorityFolder: folder },
    { webRoot: undefined, now: Date.now },
  )
  owner = new TestPerson(server.url)
  await owner.becomeOwner(server.firstRunToken)
  device = await owner.createDevice('vat')
}, 60_000)
afterAll(() => server.close())

const secure = () => new URL(server.secureUrl ?? '')
const curl = (...args: string[]) => run('curl', ['--silent', '--show-error', '--cacert', authority, ...args])

describe('a board and a person', () => {
  it('reach it over TLS with curl, who knows the authority', async () => {
    const posted = await curl(
      ...['--write-out', '%{http_code}', '-H', `Authorization: Bearer ${device.token}`],
      ...['-H', 'Content-Type: application/json', '-d', '{"temperature": 4.5}', `${secure().origin}/in`],
    )
    expect(posted).toEqual({ code: 0, out: '204' })
    const named = ['--connect-to', `creamery.test:443:127.0.0.1:${secure().port}`]
    expect((await curl(...named, '--write-out', '%{http_code}', 'https://creamery.test/healthz')).out).toBe(
      'alive\n200',
    )
  })

  it('do not, who know no such authority', async () => {
    const { code } = await run('curl', ['--silent', `${secure().origin}/healthz`])
    // CURLE_PEER_FAILED_VERIFICATION
    expect(code).toBe(60)
  })

  it('publish over MQTT with TLS', async () => {
    const publish = (port: number, ...how: string[]) =>
      run('mosquitto_pub', [
        ...['-h', '127.0.0.1', '-p', String(port), '-q', '1', '-u', device.address, '-P', device.secret],
        ...['-t', `sparrow/${device.address}/in`, '-m', '{"temperature": 5.5}', ...how],
      ])
    expect(await publish(server.mqttTlsPort ?? 0, '--cafile', authority)).toEqual({ code: 0, out: '' })
    expect((await publish(server.mqttTlsPort ?? 0)).code).not.toBe(0)
    expect((await owner.device('vat')).signals[0]?.latest?.value).toBe(5.5)
  })

  it('hear live values over TLS', async () => {
    const socket = new WebSocket(`wss://127.0.0.1:${secure().port}/live`, {
      ca: readFileSync(authority),
      headers: { Cookie: owner.cookie, Origin: secure().origin },
    })
    await once(socket, 'open')
    socket.send(JSON.stringify({ subscribe: [(await owner.device('vat')).signals[0]?.id] }))
    const [data] = await once(socket, 'message')
    expect(JSON.parse(String(data))).toMatchObject({ kind: 'snapshot' })
    socket.close()
  })
})

it('shows a certificate that openssl finds good for this machine', async () => {
  const { out } = await run('openssl', [
    ...['verify', '-CAfile', authority, '-purpose', 'sslserver', '-verify_ip', '127.0.0.1'],
    join(folder, 'server.crt'),
  ])
  expect(out).toMatch(/server\.crt: OK/)
  const old = await run('openssl', ['s_client', '-connect', `127.0.0.1:${secure().port}`, '-tls1_1'])
  expect(old.code).not.toBe(0)
})

it('gives out what phones import, and nothing that is secret', async () => {
  const { out } = await run('curl', ['--silent', `${server.url}/authority.crt`])
  expect(out).toBe(readFileSync(authority, 'utf8'))
  expect((await fetch(`${server.url}/authority.key`)).status).not.toBe(200)
})

it('tells no browser to insist on TLS with an authority that it may forget', async () => {
  const { out } = await curl('--head', `${secure().origin}/healthz`)
  expect(out).not.toMatch(/strict-transport-security/i)
})

it('says how it is reached', async () => {
  const { body } = await owner.call(routes.getReach)
  expect(body).toMatchObject({
    people: { url: secure().origin },
    devices: { url: server.url, mqttPort: server.mqttPort, mqttTlsPort: server.mqttTlsPort },
    isLocalOnly: true,
    tls: { isLocalAuthority: true, fingerprint: expect.stringMatching(/^(?:[0-9A-F]{2}:){31}[0-9A-F]{2}$/) },
  })
})

describe('a certificate', () => {
  const serialOf = async (port: string) => {
    const socket = connect({ port: Number(port), host: '127.0.0.1', ca: readFileSync(authority) })
    await once(socket, 'secureConnect')
    const { serialNumber } = socket.getPeerCertificate()
    socket.destroy()
    return serialNumber
  }

  it('is renewed without a restart, while connections stay', async () => {
    const staying = connect({ port: Number(secure().port), host: '127.0.0.1', ca: readFileSync(authority) })
    await once(staying, 'secureConnect')
    const before = await serialOf(secure().port)
    const files = { cert: join(folder, 'server.crt'), key: join(folder, 'server.key') }
    const watcher = new Certificates(files, pino({ level: 'silent' }))
    const renewed = new Promise((done) => watcher.onRenewed(done))
    await localAuthority(dirname(folder))
    await renewed
    watcher.close()
    // The server hears of it by its own watch, which began before this one.
    expect(await serialOf(secure().port)).not.toBe(before)
    expect(await serialOf(String(server.mqttTlsPort))).not.toBe(before)
    staying.write('GET /healthz HTTP/1.1\r\nHost: localhost\r\n\r\n')
    expect(String((await once(staying, 'data'))[0])).toMatch(/^HTTP\/1\.1 200/)
    staying.destroy()
  })

  it('that cannot be used is told in words', async () => {
    const config = {
      ...testConfig(await emptyDatabase()),
      tlsCert: join(folder, 'server.crt'),
      tlsKey: join(folder, 'authority.key'),
    }
    await expect(startServer(config, { webRoot: undefined, now: Date.now })).rejects.toThrow(
      /TLS_CERT ".*server\.crt" with TLS_KEY ".*authority\.key" cannot be used/,
    )
  })

  it('that was stated lets browsers be told to come by TLS only', async () => {
    const config = {
      ...testConfig(await emptyDatabase()),
      tlsCert: join(folder, 'server.crt'),
      tlsKey: join(folder, 'server.key'),
    }
    const strict = await startServer(config, { webRoot: undefined, now: Date.now })
    const { out } = await curl('--head', `${strict.secureUrl}/healthz`)
    await strict.close()
    expect(out).toMatch(/strict-transport-security: max-age=\d+/i)
  })
})

describe('where secrets may not come without TLS', () => {
  let careful: RunningServer
  beforeAll(async () => {
    careful = await startServer(
      {
        ...testConfig(await emptyDatabase()),
        authorityFolder: folder,
        plainSecrets: false,
        trustProxy: '127.0.0.1',
        publicUrl: 'https://creamery.test',
      },
      { webRoot: undefined, now: Date.now },
    )
  })
  afterAll(() => careful.close())

  it.each([
    ['a message', '/in', 'POST', {}, 403],
    ['a password', '/api/session', 'POST', {}, 403],
    ['a message through a proxy that has TLS', '/in', 'POST', { 'X-Forwarded-Proto': 'https' }, 401],
    ['a question whether it lives', '/healthz', 'GET', {}, 200],
    ['a page', '/devices/vat', 'GET', {}, 307],
  ])('%s from another machine', async (_, path, method, headers, status) => {
    const answer = await fetch(careful.url + path, {
      method,
      headers: { 'X-Forwarded-For': '192.0.2.9', ...headers },
      redirect: 'manual',
    })
    expect(answer.status).toBe(status)
    if (status === 307) expect(answer.headers.get('location')).toBe('https://creamery.test/devices/vat')
    if (status === 403) expect(await answer.text()).toMatch(/not taken without TLS here/)
  })

  it('is as ever on the machine itself', async () => {
    expect((await fetch(`${careful.url}/in`, { method: 'POST' })).status).toBe(401)
  })
})
