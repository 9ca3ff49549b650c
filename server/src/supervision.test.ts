import { type ChildProcess, execFile, spawn } from 'node:child_process'
import { once } from 'node:events'
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { freePort } from './testing/freePort.ts'
import { send, TestPerson } from './testing/serverUnderTest.ts'

const run = promisify(execFile)
const launcher = fileURLToPath(new URL('../../launch/start.mjs', import.meta.url))
const home = mkdtempSync(join(tmpdir(), 'sparrow-supervised-'))

/** `npm start` as it is, and what it says. */
class Started {
  readonly child: ChildProcess
  #said = ''
  readonly #waiting: (() => void)[] = []

  constructor(env: Record<string, string>) {
    this.child = spawn(process.execPath, [launcher], {
      env: { ...process.env, NODE_OPTIONS: '', SPARROW_HOME: home, LOG_LEVEL: 'silent', ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    for (const stream of [this.child.stdout, this.child.stderr])
      stream?.on('data', (chunk) => {
        this.#said += chunk
        for (const look of this.#waiting) look()
      })
  }

  /** Waits until it has said something that was not heard before. @returns what was looked for */
  async says(pattern: RegExp): Promise<string> {
    const found = () => pattern.exec(this.#said)
    if (!found()) {
      await new Promise<void>((heard, gone) => {
        this.#waiting.push(() => found() && heard())
        this.child.once('exit', () => gone(new Error(`it ended, and had said:\n${this.#said}`)))
      })
    }
    const match = found()
    this.#said = this.#said.slice((match?.index ?? 0) + (match?.[0].length ?? 0))
    return match?.[1] ?? ''
  }

  get serverPid(): number {
    const { pid } = this.child
    const children = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').map(Number)
    const server = children.find((child) =>
      readFileSync(`/proc/${child}/cmdline`, 'utf8').includes('server/src/main.ts'),
    )
    if (server === undefined) throw new Error('there is no server')
    return server
  }
}

const databasePid = () =>
  Number(readFileSync(join(home, 'postgres', 'postmaster.pid'), 'utf8').split('\n')[0])

/** Waits until a process is no more. */
async function gone(pid: number): Promise<void> {
  while (existsSync(`/proc/${pid}`) && !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8')))
    await new Promise((soon) => setTimeout(soon, 50))
}

afterAll(() => rmSync(home, { recursive: true, force: true }))

it('brings server and database up again where they were, and takes up what a killed launcher left', async () => {
  const ports = {
    PORT: String(await freePort()),
    MQTT_PORT: String(await freePort()),
    COAP_PORT: String(await freePort()),
  }
  const first = new Started(ports)
  const link = new URL(await first.says(/owner with this link.*: (\S+)/))
  const owner = new TestPerson(link.origin)
  await owner.becomeOwner(link.hash.slice(1))
  const { token } = await owner.createDevice('board')
  const stored: number[] = []
  const store = async (n: number) => {
    expect((await send(link.origin, token, { n, t: Date.now() })).status).toBe(204)
    stored.push(n)
  }
  await store(1)

  process.kill(first.serverPid, 'SIGKILL')
  await first.says(/main\.ts has stopped \(SIGKILL\); it is started again/)
  await first.says(new RegExp(`Jaunty Sparrow is at ${link.origin}`))
  await first.says(new RegExp(`MQTT listens at 127.0.0.1:${ports.MQTT_PORT}`))
  await first.says(new RegExp(`CoAP listens at 127.0.0.1:${ports.COAP_PORT}`))
  await store(2)

  process.kill(databasePid(), 'SIGQUIT')
  await first.says(/PostgreSQL has stopped; it is started again/)
  await first.says(/PostgreSQL is up again/)
  await store(3)

  const server = first.serverPid
  const ended = once(first.child, 'exit')
  first.child.kill('SIGKILL')
  await Promise.all([ended, gone(server)])
  const second = new Started(ports)
  await second.says(new RegExp(`Jaunty Sparrow is at ${link.origin}`))
  await store(4)
  expect((await owner.values('board', '/n')).map(([, n]) => n)).toEqual(stored)

  const { stdout } = await run('/usr/lib/postgresql/15/bin/pg_controldata', [join(home, 'postgres')])
  expect(stdout).toMatch(/checksum version:\s+1/)
  const logs = join(home, 'postgres-log')
  expect(statSync(logs).mode & 0o077).toBe(0)
  for (const name of readdirSync(logs))
    expect([name, statSync(join(logs, name)).mode & 0o077]).toEqual([name, 0])
  const stopped = once(second.child, 'exit')
  second.child.kill('SIGTERM')
  expect((await stopped)[0]).toBe(0)
  expect(existsSync(join(home, 'postgres', 'postmaster.pid'))).toBe(false)
}, 240_000)

it('gives up with a clear word what does not start at all', async () => {
  const taken = createServer().listen(0, '127.0.0.1')
  await once(taken, 'listening')
  const address = taken.address()
  const port = typeof address === 'object' ? address?.port : 0
  const started = new Started({ PORT: String(port), MQTT_PORT: '0' })
  const ended = once(started.child, 'exit')
  await started.says(/Port \d+ on 127.0.0.1 is taken by another program; set PORT/)
  await started.says(/main\.ts did not start/)
  expect((await ended)[0]).toBe(1)
  taken.close()
}, 120_000)
