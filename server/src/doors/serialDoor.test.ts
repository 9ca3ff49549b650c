import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { routes } from '@jaunty-sparrow/contract'
import { SerialPort } from 'serialport'
import { startServer } from '../server.ts'
import { Cable } from '../testing/cable.ts'
import { type ServerUnderTest, serverUnderTest, TestPerson, testConfig } from '../testing/serverUnderTest.ts'

const folder = mkdtempSync(join(tmpdir(), 'sparrow-serial-'))
let server: ServerUnderTest
let owner: TestPerson
beforeAll(async () => {
  server = await serverUnderTest()
  owner = server.owner
})
afterAll(async () => {
  await server.close()
  rmSync(folder, { recursive: true, force: true })
})

const listen = (address: string, path: string, csvHeader: string | null = null) =>
  owner.call(routes.setSerialPort, { params: { address }, body: { path, speed: 115_200, csvHeader } })

const line = async (address: string) => (await owner.device(address)).serial
const state = (address: string, wanted: string) =>
  owner.until(
    () => line(address),
    (found) => found?.state === wanted,
  )
const value = async (address: string, field: string) =>
  (await owner.device(address)).signals.find((signal) => signal.field === field)?.latest?.value

it('takes JSON, pairs and CSV, each line as a message', async () => {
  const cable = new Cable(folder, 'ttyA')
  await cable.plugIn()
  await owner.createDevice('meter')
  await listen('meter', cable.port)
  expect((await state('meter', 'listening'))?.says).toContain('115200 baud')
  await cable.print('{"ph": 6.61}\n')
  await owner.until(
    () => value('meter', '/ph'),
    (found) => found === 6.61,
  )
  await cable.print('boot ok\r\nph=6.62 temp=18.5\r\n')
  await owner.until(
    () => value('meter', '/temp'),
    (found) => found === 18.5,
  )
  expect(
    await owner.arrival(({ outcome, door }) => door === 'serial' && outcome === 'refused'),
  ).toMatchObject({
    reason: expect.stringContaining('"boot ok" holds no pair'),
  })
  await listen('meter', cable.port, 'ph,mv')
  await state('meter', 'listening')
  await cable.print('6.63,21\n')
  await owner.until(
    () => value('meter', '/mv'),
    (found) => found === 21,
  )
  expect(await value('meter', '/ph')).toBe(6.63)
  await cable.pull()
})

it('loses no line of a fast board, and tells them apart by when they came', async () => {
  const cable = new Cable(folder, 'ttyB')
  await cable.plugIn()
  await owner.createDevice('fast')
  await owner.limit('fast', { messagesPerMinute: 1_000_000 })
  await listen('fast', cable.port)
  await state('fast', 'listening')
  await cable.print('{"n": -1}\n')
  await owner.until(
    () => value('fast', '/n'),
    (found) => found === -1,
  )
  const lines = 2000
  for (let n = 0; n < lines; n += 50)
    await cable.print(Array.from({ length: 50 }, (_, k) => `{"n": ${n + k}}\n`).join(''))
  await owner.until(
    () => value('fast', '/n'),
    (found) => found === lines - 1,
  )
  const stored = await owner.until(
    () => owner.values('fast', '/n'),
    (found) => found.length === lines + 1,
  )
  expect(stored.map(([, n]) => n)).toEqual(Array.from({ length: lines + 1 }, (_, n) => n - 1))
  await cable.pull()
})

it('says when the cable is pulled, and goes on by itself when it is back', async () => {
  const cable = new Cable(folder, 'ttyC')
  await owner.createDevice('loose')
  await listen('loose', cable.port)
  expect((await state('loose', 'missing'))?.says).toContain('cable is pulled')
  await cable.plugIn()
  await state('loose', 'listening')
  await cable.print('{"n": 1}\n')
  await owner.until(
    () => value('loose', '/n'),
    (found) => found === 1,
  )
  await cable.pull()
  await state('loose', 'missing')
  await cable.plugIn()
  await state('loose', 'listening')
  await cable.print('{"n": 2}\n')
  await owner.until(
    () => value('loose', '/n'),
    (found) => found === 2,
  )
  await cable.pull()
})

it('counts a line once, when it came to the port', async () => {
  const cable = new Cable(folder, 'ttyJ')
  await cable.plugIn()
  await owner.createDevice('counted')
  // A day's worth may come at once.
  await owner.limit('counted', { messagesPerMinute: 1 })
  await listen('counted', cable.port)
  await state('counted', 'listening')
  const lines = 1000
  for (let n = 0; n < lines; n += 50)
    await cable.print(Array.from({ length: 50 }, (_, k) => `{"n": ${n + k}}\n`).join(''))
  const stored = await owner.until(
    () => owner.values('counted', '/n'),
    (found) => found.length === lines,
  )
  expect(stored).toHaveLength(lines)
  expect((await owner.device('counted')).dropped).toBeNull()
  await cable.pull()
})

it('says when another program holds the port, and takes it when it is let go', async () => {
  const cable = new Cable(folder, 'ttyD')
  await cable.plugIn()
  const monitor = new SerialPort({ path: cable.port, baudRate: 115_200 })
  await once(monitor, 'open')
  await owner.createDevice('shared')
  await listen('shared', cable.port)
  expect((await state('shared', 'busy'))?.says).toContain('Another program holds')
  monitor.close()
  await state('shared', 'listening')
  await cable.pull()
})

it('lets another program flash the board for a while, and goes on when it is done', async () => {
  const cable = new Cable(folder, 'ttyFlash')
  await cable.plugIn()
  await owner.createDevice('flashed')
  await listen('flashed', cable.port)
  await state('flashed', 'listening')
  const pause = (seconds: number) =>
    owner.call(routes.pauseSerialPort, { params: { address: 'flashed' }, body: { seconds } })
  await pause(600)
  const paused = await line('flashed')
  expect(paused).toMatchObject({ state: 'paused', says: expect.stringContaining('can be flashed') })
  expect(paused?.pausedUntil).toBeGreaterThan(Date.now() + 590_000)
  // Whoever flashes has the port to itself.
  const flasher = new SerialPort({ path: cable.port, baudRate: 115_200, autoOpen: false })
  await new Promise<void>((done, failed) => flasher.open((error) => (error ? failed(error) : done())))
  await new Promise((done) => flasher.close(done))
  await pause(0)
  await state('flashed', 'listening')
  await cable.print('{"version": 2}\n')
  await owner.until(
    () => value('flashed', '/version'),
    (found) => found === 2,
  )
  // A pause that nobody ends, ends by itself.
  await pause(1)
  await state('flashed', 'listening')
  expect((await line('flashed'))?.pausedUntil).toBeNull()
  await cable.pull()
})

it('says when lines come at the wrong speed', async () => {
  const cable = new Cable(folder, 'ttyE')
  await cable.plugIn()
  await owner.createDevice('noisy')
  await listen('noisy', cable.port)
  await state('noisy', 'listening')
  const noise = Uint8Array.from({ length: 200 }, (_, n) => (n % 50 === 49 ? 10 : 128 + ((n * 37) % 120)))
  await cable.print(noise)
  expect((await state('noisy', 'garbled'))?.says).toContain('Is 115200 baud the speed')
  expect(await owner.arrival(({ sender }) => sender === 'noisy')).toMatchObject({
    outcome: 'refused',
    reason: expect.stringContaining('speed is likely wrong'),
  })
  await cable.print(`${'{"n": 3}\n'.repeat(20)}`)
  await state('noisy', 'listening')
  await cable.pull()
})

it('belongs to one device, and is let go with it', async () => {
  const cable = new Cable(folder, 'ttyF')
  await cable.plugIn()
  for (const address of ['first', 'second']) await owner.createDevice(address)
  await listen('first', cable.port)
  expect(await listen('second', cable.port)).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('Another device listens') },
  })
  await owner.call(routes.deleteDevice, { params: { address: 'first' } })
  expect((await listen('second', cable.port)).status).toBe(204)
  await state('second', 'listening')
  await owner.call(routes.removeSerialPort, { params: { address: 'second' } })
  expect(await line('second')).toBeNull()
  expect((await owner.call(routes.listSerialPorts)).status).toBe(200)
  await cable.pull()
})

it('refuses a poisoned line once, and takes the next ones', async () => {
  const cable = new Cable(folder, 'ttyP')
  await cable.plugIn()
  await owner.createDevice('poisoned')
  await listen('poisoned', cable.port)
  await state('poisoned', 'listening')
  await cable.print('{"bad\\u0000": 1}\n')
  await cable.print(`{"n": ${'['.repeat(9000)}\n`)
  await cable.print('{"n": 5}\n')
  await owner.until(
    () => value('poisoned', '/n'),
    (found) => found === 5,
  )
  const { body } = await owner.call(routes.listArrivals, { query: { limit: 50 } })
  const refused = body.filter(({ sender, outcome }) => sender === 'poisoned' && outcome === 'refused')
  expect(refused.map(({ reason }) => reason).sort()).toEqual([
    expect.stringContaining('nested too deep'),
    expect.stringContaining('control character'),
  ])
  await cable.pull()
})

it('leaves a port to the server on whose machine it is', async () => {
  const cable = new Cable(folder, 'ttyQ')
  await cable.plugIn()
  await owner.createDevice('wired')
  await listen('wired', cable.port)
  await state('wired', 'listening')
  const other = await startServer(
    { ...testConfig(server.databaseUrl), serverName: 'elsewhere' },
    { webRoot: undefined, now: Date.now },
  )
  const there = new TestPerson(other.url)
  there.cookie = owner.cookie
  expect((await there.device('wired')).serial).toMatchObject({
    state: 'elsewhere',
    says: expect.stringContaining('The server "test" listens'),
  })
  expect((await line('wired'))?.state).toBe('listening')
  await other.close()
  await cable.pull()
})
