import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { createServer, type IncomingMessage, type Server } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { fileURLToPath } from 'node:url'
import { routes } from '@jaunty-sparrow/contract'
import { type ProgramKind, type ProgramTarget, programKinds } from '@jaunty-sparrow/core/program'
import { startServer } from '../server.ts'
import { Cable } from '../testing/cable.ts'
import { freePort } from '../testing/freePort.ts'
import { LiveLine } from '../testing/liveLine.ts'
import { localAuthority } from '../testing/localAuthority.ts'
import { run as command } from '../testing/run.ts'
import {
  emptyDatabase,
  type ServerUnderTest,
  serverUnderTest,
  TestPerson,
  testConfig,
} from '../testing/serverUnderTest.ts'
import { whatItSays } from '../testing/whatItSays.ts'

/** Stands in for what only a board has. */
const board = fileURLToPath(new URL('./board', import.meta.url))

const computer = fileURLToPath(new URL('./computer', import.meta.url))
const modules = fileURLToPath(new URL('../../../node_modules', import.meta.url))

const commands: Readonly<Record<string, readonly string[]>> = {
  micropython: ['python3', '-u', 'main.py'],
  python: ['python3', '-u', 'send.py'],
  node: [process.execPath, 'send.mjs'],
  shell: ['sh', 'send.sh'],
  'cpp-http': ['./board'],
  'cpp-mqtt': ['./board'],
  'forwarder-python': ['python3', '-u', 'forward.py'],
  'forwarder-node': [process.execPath, 'forward.mjs'],
}

const kindOf = (key: string): ProgramKind => {
  const found = programKinds.find((kind) => kind.key === key)
  if (!found) throw new Error(`there is no program ${key}`)
  return found
}
const onTheNetwork = programKinds.filter(({ key }) => !/serial|forwarder/.test(key))
const byHttp = onTheNetwork.filter(({ key }) => key !== 'cpp-mqtt')
const forwarders = programKinds.filter(({ key }) => key.startsWith('forwarder'))

let server: ServerUnderTest
const folders: string[] = []
const running: ChildProcess[] = []
beforeAll(async () => {
  server = await serverUnderTest()
})
afterEach(() => {
  // With what it started itself.
  for (const { pid, exitCode: code, signalCode } of running.splice(0))
    if (pid && code === null && signalCode === null) process.kill(-pid, 'SIGKILL')
})
afterAll(async () => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true })
  await server.close()
})

/** The program as somebody would copy it. @returns its folder */
function copied({ write }: ProgramKind, target: ProgramTarget, secret: string): string {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-program-'))
  folders.push(folder)
  for (const { name, text } of write(target, secret)) writeFileSync(join(folder, name), text)
  return folder
}

const compile = (folder: string, ...more: string[]) =>
  command('g++', ['-std=c++17', '-Wall', '-Wextra', '-Werror', ...more, '-x', 'c++', 'board.ino'], {
    cwd: folder,
  })

/** The program as somebody would copy it, and run for real. */
async function run(kind: ProgramKind, target: ProgramTarget, secret: string, ...args: string[]) {
  const folder = copied(kind, target, secret)
  if (kind.key.startsWith('cpp'))
    expect(
      await compile(
        folder,
        '-I',
        computer,
        '-include',
        'Arduino.h',
        join(computer, 'computer.cpp'),
        '-o',
        'board',
      ),
    ).toEqual({ code: 0, out: '' })
  if (kind.key === 'forwarder-node') symlinkSync(modules, join(folder, 'node_modules'))
  const [program = '', ...given] = commands[kind.key] ?? []
  const child = spawn(program, [...given, ...args], {
    cwd: folder,
    env: { ...process.env, PYTHONPATH: board, PYTHONDONTWRITEBYTECODE: '1' },
    detached: true,
  })
  running.push(child)
  return { child, ...whatItSays(child) }
}

const fields = [
  { pointer: '/probes/1/temp', kind: 'number' as const, last: 4.5 },
  { pointer: '/lid', kind: 'switch' as const, last: true },
]

/** How the server under test is reached. */
const target = () => ({
  url: server.origin,
  mqtt: { host: '127.0.0.1', port: server.mqttPort, isEncrypted: false },
  seconds: 1,
  sleeps: false,
  fields,
  controlled: [] as ProgramTarget['controlled'],
  guards: false,
})

const exitCode = async (child: ChildProcess): Promise<number | null> =>
  child.exitCode ?? (await once(child, 'close'))[0]

describe.each(onTheNetwork)('the program in $name', (kind) => {
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
    await run(kind, { ...target(), address }, secret)
    const values = await line.hear((frame) =>
      frame.kind === 'readings' ? frame.signals.flatMap(({ readings }) => readings) : undefined,
    )
    expect(JSON.stringify(values)).toContain('4.5')
    line.close()
    expect((await owner.device(address)).signals[0]?.latest?.value).toBe(4.5)
  })

  it('says in one line that the secret is wrong, and stops', async () => {
    const { address } = await server.owner.createDevice(`stranger-${kind.key}`)
    const { child, says } = await run(kind, { ...target(), address }, 'x'.repeat(32))
    await says(/does not take this address and secret/)
    // A board that has nothing to go back to rests for good.
    if (!kind.key.startsWith('cpp')) expect(await exitCode(child)).toBe(1)
  })
})

describe.each(byHttp)('the program in $name', (kind) => {
  it('keeps what it measured while there is no way to the server, and sends it with its times', async () => {
    const port = await freePort()
    const url = `http://127.0.0.1:${port}`
    const { says } = await run(kind, { ...target(), address: 'board', url }, 'secret')
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
  const port = await freePort()
  const sleeping = {
    ...target(),
    address: 'board',
    url: `http://127.0.0.1:${port}`,
    seconds: 600,
    sleeps: true,
  }
  const { child, said } = await run(kindOf('micropython'), sleeping, 'secret')
  await once(child, 'close')
  expect(said()).toMatch(/No way to[\s\S]*sleeps 600000 ms/)
  const waiting = JSON.parse(readFileSync(join(folders.at(-1) ?? '', 'waiting.json'), 'utf8'))
  expect(waiting).toEqual([{ probes: { 1: { temp: 4.5 } }, lid: true, t: expect.any(Number) }])
})

it('sends by MQTT what waited, as soon as there is a broker, also to one that is not ours', async () => {
  const port = await freePort()
  const mqtt = { host: '127.0.0.1', port, isEncrypted: false }
  const { says } = await run(kindOf('cpp-mqtt'), { ...target(), address: 'board', mqtt }, 'secret')
  await says(/No way to/)
  const broker = spawn('/usr/sbin/mosquitto', ['-p', String(port)], { stdio: ['ignore', 'ignore', 'pipe'] })
  for await (const line of createInterface({ input: broker.stderr })) if (line.endsWith(' running')) break
  broker.stderr.resume()
  const heard = await command('mosquitto_sub', ['-p', String(port), '-t', 'sparrow/board/in', '-C', '1'])
  const readings: { t: number }[] = JSON.parse(heard.out)
  expect(readings.length).toBeGreaterThanOrEqual(2)
  expect(readings[0]).toMatchObject({ probes: { 1: { temp: 4.5 } }, lid: true, t: expect.any(Number) })
  const ended = once(broker, 'exit')
  broker.kill()
  await ended
})

it.each(['cpp-http', 'cpp-mqtt'])(
  'speaks TLS with whom its authority vouches for, and with nobody else: %s',
  async (key) => {
    const folder = await localAuthority()
    const secure = await startServer(
      { ...testConfig(await emptyDatabase()), authorityFolder: folder },
      { webRoot: undefined, now: Date.now },
    )
    const person = new TestPerson(secure.url)
    await person.becomeOwner(secure.firstRunToken)
    const { address, secret } = await person.createDevice('vat')
    const authority = readFileSync(join(folder, 'authority.crt'), 'utf8')
    const over = {
      ...target(),
      address,
      url: secure.secureUrl ?? '',
      mqtt: { host: '127.0.0.1', port: secure.mqttTlsPort ?? 0, isEncrypted: true },
    }
    const stranger = await localAuthority()
    const doubted = await run(
      kindOf(key),
      { ...over, authority: readFileSync(join(stranger, 'authority.crt'), 'utf8') },
      secret,
    )
    await doubted.says(/did not answer in time|No way to/)
    expect((await person.device(address)).signals).toEqual([])
    await run(kindOf(key), { ...over, authority }, secret)
    await person.until(
      async () => (await person.device(address)).signals,
      (signals) => signals.some(({ latest }) => latest?.value === 4.5),
    )
    await secure.close()
  },
  120_000,
)

it.each(['cpp-http', 'cpp-mqtt', 'cpp-serial'])(
  'stops with a sentence when it is compiled for the wrong board: %s',
  async (key) => {
    const { code, out } = await compile(
      copied(kindOf(key), { ...target(), address: 'board' }, 'secret'),
      '-fsyntax-only',
    )
    expect(code).not.toBe(0)
    expect(out).toMatch(/This program is for a (board with Wi-Fi|microcontroller): choose your/)
  },
)

it('runs on an 8-bit board, whose lines are read on a cable', async () => {
  // With the sides that are told something and that guard, which take room too.
  const controlled = [{ pointer: '/fogger', kind: 'switch' as const }]
  const folder = copied(
    kindOf('cpp-serial'),
    { ...target(), address: 'board', controlled, guards: true },
    'secret',
  )
  await buildForBoard(folder)
  const cable = new Cable(folder, 'ttyBoard')
  await cable.plugIn()
  const { owner } = server
  await owner.createDevice('eight-bit')
  await owner.call(routes.setSerialPort, {
    params: { address: 'eight-bit' },
    body: { path: cable.port, speed: 9600, csvHeader: null },
  })
  await owner.until(
    async () => (await owner.device('eight-bit')).serial,
    (found) => found?.state === 'listening',
  )
  const simulated = spawn('simavr', ['-m', 'atmega328p', '-f', '16000000', 'board.elf'], {
    cwd: folder,
    detached: true,
  })
  running.push(simulated)
  // It tells what its serial line says in colour, a dot for each end of a line.
  for (const stream of [simulated.stdout, simulated.stderr])
    createInterface({ input: stream }).on('line', (line) => {
      // biome-ignore lint/suspicious/noControlCharactersInRegex: colours are told by them
      const said = /\{.*\}/.exec(line.replace(/\x1b\[[0-9;]*m/g, ''))
      if (said) void cable.print(`${said[0]}\n`)
    })
  await owner.until(
    async () => (await owner.device('eight-bit')).signals,
    (signals) => signals.some(({ field, latest }) => field === '/probes/1/temp' && latest?.value === 4.5),
  )
  await cable.pull()
}, 120_000)

/** Compiles a sketch for an 8-bit board with all it stands on, as the maker's own tools do. */
async function buildForBoard(folder: string): Promise<void> {
  const core = '/usr/share/arduino/hardware/arduino/avr'
  const flags = [
    ...['-mmcu=atmega328p', '-DF_CPU=16000000UL', '-DARDUINO=10819', '-DARDUINO_ARCH_AVR', '-Os'],
    ...[
      '-ffunction-sections',
      '-fdata-sections',
      '-w',
      '-I',
      `${core}/cores/arduino`,
      '-I',
      `${core}/variants/standard`,
      '-I',
      `${core}/libraries/EEPROM/src`,
    ],
  ]
  // The compiler is older than a name of the standard that the core asks for.
  const cpp = ['-std=gnu++11', '-DDECIMAL_DIG=__DECIMAL_DIG__', '-fno-exceptions', '-fno-threadsafe-statics']
  const sources = readdirSync(`${core}/cores/arduino`).filter((name) => /\.(c|cpp)$/.test(name))
  const compiled = await Promise.all([
    ...sources.map((name) =>
      command(name.endsWith('.c') ? 'avr-gcc' : 'avr-g++', [
        ...(name.endsWith('.c') ? [] : cpp),
        ...flags,
        ...['-c', `${core}/cores/arduino/${name}`, '-o', join(folder, `${name}.o`)],
      ]),
    ),
    command('avr-g++', [
      ...cpp,
      ...flags,
      '-Wall',
      '-x',
      'c++',
      '-c',
      join(folder, 'board.ino'),
      '-o',
      join(folder, 'board.o'),
    ]),
  ])
  const objects = [...sources.map((name) => `${name}.o`), 'board.o'].map((name) => join(folder, name))
  const linked = await command('avr-gcc', [
    ...['-mmcu=atmega328p', '-Os', '-Wl,--gc-sections', ...objects, '-lm', '-o', join(folder, 'board.elf')],
  ])
  for (const { code, out } of [...compiled, linked]) expect({ code, out }).toEqual({ code: 0, out: '' })
}

describe.each(forwarders)('the $name', (kind) => {
  it('sends what a board prints, with its times, also what was printed while there was no way', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'sparrow-cable-'))
    folders.push(folder)
    const cable = new Cable(folder, 'ttyLaptop')
    await cable.plugIn()
    const port = await freePort()
    const { says } = await run(
      kind,
      { ...target(), address: 'board', url: `http://127.0.0.1:${port}` },
      'secret',
      cable.port,
      '9600',
    )
    await says(/Listening to/)
    await cable.print('{"ph": 6.61}\n{"ph": 6.62}\n')
    await says(/No way to/)
    await cable.print('{"ph": 6.63}\n')
    const { body, authorization } = await firstRequest(port)
    expect(authorization).toBe('Bearer board.secret')
    const readings: { t: number; ph: number }[] = JSON.parse(body)
    expect(readings.map(({ ph }) => ph)).toEqual([6.61, 6.62, 6.63])
    const times = readings.map(({ t }) => t)
    expect(times).toEqual([...times].sort((a, b) => a - b))
    await cable.pull()
  })

  it('takes lines that are no JSON, a cable that is pulled, and says that the secret is wrong', async () => {
    const { owner } = server
    const folder = mkdtempSync(join(tmpdir(), 'sparrow-cable-'))
    folders.push(folder)
    const cable = new Cable(folder, 'ttyLaptop')
    await cable.plugIn()
    const { address, secret } = await owner.createDevice(`laptop-${kind.key}`)
    const right = await run(kind, { ...target(), address }, secret, cable.port, '9600')
    await right.says(/Listening to/)
    await cable.print('boot ok\nph=6.5\n')
    await owner.until(
      async () => (await owner.device(address)).signals,
      (signals) => signals.some(({ field, latest }) => field === '/ph' && latest?.value === 6.5),
    )
    await right.says(/The server answered 4\d\d/)
    await cable.pull()
    await right.says(/cannot be read/)
    await cable.plugIn()
    await right.says(/Listening to[\s\S]*Listening to/)
    // One reader at a time.
    const ended = once(right.child, 'close')
    right.child.kill()
    await ended
    const wrong = await run(kind, { ...target(), address }, 'x'.repeat(32), cable.port, '9600')
    await wrong.says(/Listening to/)
    await cable.print('{"ph": 7}\n')
    await wrong.says(/does not take this address and secret/)
    expect(await exitCode(wrong.child)).toBe(1)
    await cable.pull()
  })
})

const listening = async (http: Server, port: number): Promise<void> => {
  http.listen(port, '127.0.0.1')
  await once(http, 'listening')
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
