import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { chmodSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { Agent } from 'node:https'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { connect } from 'node:tls'
import { routes } from '@jaunty-sparrow/contract'
import { WebSocket } from 'ws'
import { type RunningServer, startServer } from '../server.ts'
import { freePort } from '../testing/freePort.ts'
import { localAuthority } from '../testing/localAuthority.ts'
import { run } from '../testing/run.ts'
import { emptyDatabase, TestPerson, testConfig } from '../testing/serverUnderTest.ts'

const recipe = (name: string) =>
  readFileSync(new URL(`../../../docs/recipes/${name}`, import.meta.url), 'utf8')

/** Resolves when somebody speaks TLS at a port of this machine; a proxy says nothing when it is ready. */
async function speaksTls(port: number): Promise<void> {
  for (;;) {
    const socket = connect({ port, host: '127.0.0.1', rejectUnauthorized: false })
    const isUp = await Promise.race([
      once(socket, 'secureConnect').then(() => true),
      new Promise<boolean>((done) => socket.on('error', () => done(false))),
    ])
    socket.destroy()
    if (isUp) return
    await new Promise((done) => setTimeout(done, 20))
  }
}

let server: RunningServer
let owner: TestPerson
let folder: string
let token: string

beforeAll(async () => {
  folder = await localAuthority(undefined, 'creamery.example')
  const config = testConfig(await emptyDatabase())
  server = await startServer(
    { ...config, trustProxy: '127.0.0.1', publicUrl: 'https://creamery.example' },
    { webRoot: undefined, now: Date.now },
  )
  owner = new TestPerson(server.url)
  await owner.becomeOwner(server.firstRunToken)
  token = (await owner.createDevice('vat')).token
}, 60_000)
afterAll(() => server.close())

/** The recipe as it stands, with the ports and files of this test. */
const filled = (name: string, port: number) =>
  recipe(name)
    .replaceAll('127.0.0.1:7600', new URL(server.url).host)
    .replaceAll('/etc/ssl/creamery.example.crt', join(folder, 'server.crt'))
    .replaceAll('/etc/ssl/creamery.example.key', join(folder, 'server.key'))
    .replace(/listen 443/, `listen 127.0.0.1:${port}`)
    .replace(/:443 \{/, `:${port} {`)

function startNginx(port: number): ChildProcess {
  const place = mkdtempSync(join(tmpdir(), 'sparrow-nginx-'))
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
    .map((what) => `${what}_temp_path ${place}/${what};`)
    .join('\n')
  writeFileSync(
    join(place, 'nginx.conf'),
    `pid ${place}/pid;\nerror_log ${place}/error.log;\nuser root;\nevents {}\nhttp {\naccess_log off;\n${temporary}\n${filled('nginx.conf', port)}\n}\n`.replace(
      'user root;\n',
      process.getuid?.() === 0 ? 'user root;\n' : '',
    ),
  )
  return spawn('/usr/sbin/nginx', ['-c', join(place, 'nginx.conf'), '-p', place, '-g', 'daemon off;'])
}

function startCaddy(port: number): ChildProcess {
  const place = mkdtempSync(join(tmpdir(), 'sparrow-caddy-'))
  chmodSync(place, 0o700)
  writeFileSync(join(place, 'Caddyfile'), filled('Caddyfile', port))
  return spawn('/usr/bin/caddy', ['run', '--config', join(place, 'Caddyfile'), '--adapter', 'caddyfile'], {
    env: { ...process.env, HOME: place, XDG_DATA_HOME: place, XDG_CONFIG_HOME: place },
  })
}

describe.each([
  ['nginx', startNginx],
  ['caddy', startCaddy],
] as const)('behind %s, as its recipe says', (_, start) => {
  let proxy: ChildProcess
  let port: number
  beforeAll(async () => {
    port = await freePort()
    proxy = start(port)
    await speaksTls(port)
  }, 30_000)
  afterAll(async () => {
    const ended = once(proxy, 'exit')
    proxy.kill('SIGTERM')
    await ended
  })
  const curl = (path: string, ...args: string[]) =>
    run('curl', [
      ...['--silent', '--show-error', '--cacert', join(folder, 'authority.crt')],
      ...['--connect-to', `creamery.example:${port}:127.0.0.1:${port}`],
      ...args,
      `https://creamery.example:${port}${path}`,
    ])

  it('a board sends, also a large backlog', async () => {
    const body = join(folder, 'backlog.json')
    const readings = Array.from({ length: 20_000 }, (_, n) => ({
      temperature: n / 100,
      t: 1_790_000_000 + n,
    }))
    writeFileSync(body, JSON.stringify(readings))
    await owner.limit('vat', { readingsPerMinute: 1_000_000, messageBytes: 4_000_000 })
    const { out } = await curl(
      '/in',
      ...['--write-out', '%{http_code}', '-H', `Authorization: Bearer ${token}`],
      ...['-H', 'Content-Type: application/json', '--data-binary', `@${body}`],
    )
    expect(out).toBe('204')
  })

  it('a person signs in with a cookie for TLS only, and a page hears live values', async () => {
    const jar = join(folder, `jar-${port}`)
    const { out } = await curl(
      '/api/session',
      ...['--include', '--cookie-jar', jar, '-H', 'Content-Type: application/json'],
      ...['-d', JSON.stringify({ name: 'Ines Marlow', password: 'a gate, a goat, a bell' })],
    )
    expect(out).toMatch(/set-cookie: sparrow_session=[^\n]*; Secure/i)
    const agent = new Agent({
      ca: readFileSync(join(folder, 'authority.crt')),
      servername: 'creamery.example',
    })
    const socket = new WebSocket(`wss://127.0.0.1:${port}/live`, {
      agent,
      headers: {
        Host: `creamery.example:${port}`,
        Origin: `https://creamery.example:${port}`,
        Cookie: /sparrow_session=[^;]+/.exec(out)?.[0] ?? '',
      },
    })
    await once(socket, 'open')
    socket.send(JSON.stringify({ subscribe: [] }))
    expect(JSON.parse(String((await once(socket, 'message'))[0]))).toMatchObject({ kind: 'snapshot' })
    socket.close()
  })

  it('it knows who asks: whoever fails often is held back by the own address, and no other', async () => {
    const before = (await owner.call(routes.getReach)).body.elsewhereAt
    const from = `198.51.100.${port % 250}`
    const fail = () =>
      curl(
        '/api/session',
        ...['--write-out', '%{http_code}', '--output', '/dev/null', '-H', `X-Forwarded-For: ${from}`],
        ...['-H', 'Content-Type: application/json', '-d', '{"name":"Somebody","password":"wrong"}'],
      )
    // What a client says of itself is not believed: the proxy puts the truth behind it, which is this machine.
    await fail()
    expect((await owner.call(routes.getReach)).body.elsewhereAt).toBe(before)
  })
})

it('takes the word of a proxy for who asks, and of nobody else', async () => {
  const asked = async () => (await owner.call(routes.getReach)).body.elsewhereAt
  await fetch(`${server.url}/healthz`, { headers: { 'X-Forwarded-For': '198.51.100.7' } })
  expect(await asked()).not.toBeNull()
})
