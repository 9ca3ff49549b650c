import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { routes } from '@jaunty-sparrow/contract'
import { type ProgramKind, type ProgramTarget, programKinds } from '@jaunty-sparrow/core/program'
import { LiveLine } from '../testing/liveLine.ts'
import { type ServerUnderTest, serverUnderTest } from '../testing/serverUnderTest.ts'

/** Stands in for what only a board has. */
const board = fileURLToPath(new URL('./board', import.meta.url))

const commands: Readonly<Record<string, readonly [command: string, file: string]>> = {
  micropython: ['python3', 'main.py'],
  python: ['python3', 'send.py'],
  node: [process.execPath, 'send.mjs'],
  shell: ['sh', 'send.sh'],
}

let server: ServerUnderTest
const folders: string[] = []
const running: ChildProcess[] = []
beforeAll(async () => {
  server = await serverUnderTest()
})
afterEach(() => {
  // With what it started itself.
  for (const { pid, exitCode } of running.splice(0))
    if (pid && exitCode === null) process.kill(-pid, 'SIGKILL')
})
afterAll(async () => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true })
  await server.close()
})

/** The program as somebody would copy it, and run for real. */
function run({ key, write }: ProgramKind, target: ProgramTarget, secret: string) {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-program-'))
  folders.push(folder)
  for (const { name, text } of write(target, secret)) writeFileSync(join(folder, name), text)
  const [command, file] = commands[key] ?? ['', '']
  const child = spawn(command, ['-u', file].slice(command === 'python3' ? 0 : 1), {
    cwd: folder,
    env: { ...process.env, PYTHONPATH: board, PYTHONDONTWRITEBYTECODE: '1' },
    detached: true,
  })
  running.push(child)
  let said = ''
  const listeners = new Set<() => void>()
  for (const stream of [child.stdout, child.stderr])
    stream.setEncoding('utf8').on('data', (text: string) => {
      said += text
      for (const look of listeners) look()
    })
  /** Resolves when it has said something. */
  const says = (words: RegExp) =>
    new Promise<void>((resolve) => {
      const look = () => words.test(said) && resolve()
      listeners.add(look)
      look()
    })
  return { child, says, said: () => said }
}

const fields = [
  { pointer: '/probes/1/temp', kind: 'number' as const, last: 4.5 },
  { pointer: '/lid', kind: 'switch' as const, last: true },
]

describe.each(programKinds)('the program in $name', (kind) => {
  it('sends what it reads, until it is stopped', async () => {
    const { owner, origin } = server
    const address = `board-${kind.key}`
    const { body: kit } = await owner.call(routes.createKit, {
      body: {
        name: `Kit of ${address}`,
        cadence: null,
        signals: [{ field: '/probes/1/temp', name: 'Temperature', kind: 'number' }],
      },
    })
    const { secret } = await owner.createDevice(address, kit.id)
    const signal = (await owner.device(address)).signals[0]?.id ?? 0
    const line = await LiveLine.open(origin, owner.cookie, { subscribe: [signal] })
    run(kind, { address, url: origin, seconds: 1, sleeps: false, fields }, secret)
    const values = await line.hear((frame) =>
      frame.kind === 'readings' ? frame.signals.flatMap(({ readings }) => readings) : undefined,
    )
    expect(JSON.stringify(values)).toContain('4.5')
    line.close()
    expect((await owner.device(address)).signals[0]?.latest?.value).toBe(4.5)
  })

  it('says in one line that the secret is wrong, and stops', async () => {
    const { address } = await server.owner.createDevice(`stranger-${kind.key}`)
    const { child, said } = run(
      kind,
      { address, url: server.origin, seconds: 1, sleeps: false, fields },
      'x'.repeat(32),
    )
    const [code] = await once(child, 'close')
    expect(code).toBe(1)
    expect(said()).toMatch(/does not take this address and secret/)
  })

  it('keeps what it measured while there is no way to the server, and sends it with its times', async () => {
    const port = await freePort()
    const url = `http://127.0.0.1:${port}`
    const { says } = run(kind, { address: 'board', url, seconds: 1, sleeps: false, fields }, 'secret')
    await says(/No way to/)
    const { body, authorization } = await firstRequest(port)
    expect(authorization).toBe('Bearer board.secret')
    const readings: { t: number; lid: boolean }[] = JSON.parse(body)
    expect(readings.length).toBeGreaterThanOrEqual(2)
    expect(readings[0]).toMatchObject({ probes: { 1: { temp: 4.5 } }, lid: true })
    const times = readings.map(({ t }) => t)
    expect(times).toEqual([...new Set(times)].sort((a, b) => a - b))
  })
})

it('keeps in a file what a sleeping board has not sent yet', async () => {
  const kind = programKinds.find(({ key }) => key === 'micropython') as ProgramKind
  const port = await freePort()
  const target = { address: 'board', url: `http://127.0.0.1:${port}`, seconds: 600, sleeps: true, fields }
  const { child, said } = run(kind, target, 'secret')
  await once(child, 'close')
  expect(said()).toMatch(/No way to[\s\S]*sleeps 600000 ms/)
  const waiting = JSON.parse(readFileSync(join(folders.at(-1) ?? '', 'waiting.json'), 'utf8'))
  expect(waiting).toEqual([{ probes: { 1: { temp: 4.5 } }, lid: true, t: expect.any(Number) }])
})

const listening = async (http: Server, port: number): Promise<void> => {
  http.listen(port, '127.0.0.1')
  await once(http, 'listening')
}

async function freePort(): Promise<number> {
  const http = createServer()
  await listening(http, 0)
  const { port } = http.address() as AddressInfo
  http.close()
  await once(http, 'close')
  return port
}

/** What the first request that comes brings. */
async function firstRequest(port: number): Promise<{ body: string; authorization: string | undefined }> {
  const http = createServer()
  const asked = once(http, 'request') as Promise<[IncomingMessage]>
  await listening(http, port)
  const [request] = await asked
  const chunks: Buffer[] = []
  for await (const chunk of request) chunks.push(chunk as Buffer)
  http.closeAllConnections()
  http.close()
  return { body: Buffer.concat(chunks).toString(), authorization: request.headers.authorization }
}
