import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { existsSync, mkdtempSync, rmSync, watch } from 'node:fs'
import { type FileHandle, open } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { routes } from '@jaunty-sparrow/contract'
import { SerialPort } from 'serialport'
import { type ServerUnderTest, serverUnderTest, type TestPerson } from '../testing/serverUnderTest.ts'

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

/** A cable made by socat: what is written into `board` comes out at the port. */
class Cable {
  readonly port: string
  readonly #boardEnd: string
  #socat: ChildProcess | undefined
  #board: FileHandle | undefined

  constructor(name: string) {
    this.port = join(folder, name)
    this.#boardEnd = join(folder, `${name}-board`)
  }

  async plugIn(): Promise<void> {
    const there = new Promise<void>((resolve) => {
      const watcher = watch(folder, () => {
        if (!existsSync(this.port) || !existsSync(this.#boardEnd)) return
        watcher.close()
        resolve()
      })
    })
    this.#socat = spawn('socat', [`PTY,link=${this.port},rawer`, `PTY,link=${this.#boardEnd},rawer`])
    await there
    this.#board = await open(this.#boardEnd, 'r+')
  }

  async print(text: string | Uint8Array): Promise<void> {
    await this.#board?.write(typeof text === 'string' ? Buffer.from(text) : text)
  }

  async pull(): Promise<void> {
    await this.#board?.close()
    const ended = this.#socat && once(this.#socat, 'exit')
    this.#socat?.kill()
    await ended
  }
}

const listen = (address: string, path: string, csvHeader: string | null = null) =>
  owner.call(routes.setSerialPort, { params: { address }, body: { path, speed: 115_200, csvHeader } })

/** Waits until what the API tells of a device fits. */
async function until<T>(look: () => Promise<T>, fits: (found: T) => boolean): Promise<T> {
  for (let n = 0; n < 300; n++) {
    const found = await look()
    if (fits(found)) return found
    await new Promise((soon) => setTimeout(soon, 50))
  }
  throw new Error(`what was awaited did not come about: ${JSON.stringify(await look())}`)
}
const line = async (address: string) => (await owner.device(address)).serial
const state = (address: string, wanted: string) =>
  until(
    () => line(address),
    (found) => found?.state === wanted,
  )
const value = async (address: string, field: string) =>
  (await owner.device(address)).signals.find((signal) => signal.field === field)?.latest?.value

it('takes JSON, pairs and CSV, each line as a message', async () => {
  const cable = new Cable('ttyA')
  await cable.plugIn()
  await owner.createDevice('meter')
  await listen('meter', cable.port)
  expect((await state('meter', 'listening'))?.says).toContain('115200 baud')
  await cable.print('{"ph": 6.61}\n')
  await until(
    () => value('meter', '/ph'),
    (found) => found === 6.61,
  )
  await cable.print('boot ok\r\nph=6.62 temp=18.5\r\n')
  await until(
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
  await until(
    () => value('meter', '/mv'),
    (found) => found === 21,
  )
  expect(await value('meter', '/ph')).toBe(6.63)
  await cable.pull()
})

it('loses no line of a fast board, and tells them apart by when they came', async () => {
  const cable = new Cable('ttyB')
  await cable.plugIn()
  await owner.createDevice('fast')
  await owner.limit('fast', { messagesPerMinute: 1_000_000 })
  await listen('fast', cable.port)
  await state('fast', 'listening')
  await cable.print('{"n": -1}\n')
  await until(
    () => value('fast', '/n'),
    (found) => found === -1,
  )
  const lines = 2000
  for (let n = 0; n < lines; n += 50)
    await cable.print(Array.from({ length: 50 }, (_, k) => `{"n": ${n + k}}\n`).join(''))
  await until(
    () => value('fast', '/n'),
    (found) => found === lines - 1,
  )
  const stored = await until(
    () => owner.values('fast', '/n'),
    (found) => found.length === lines + 1,
  )
  expect(stored.map(([, n]) => n)).toEqual(Array.from({ length: lines + 1 }, (_, n) => n - 1))
  await cable.pull()
})

it('says when the cable is pulled, and goes on by itself when it is back', async () => {
  const cable = new Cable('ttyC')
  await owner.createDevice('loose')
  await listen('loose', cable.port)
  expect((await state('loose', 'missing'))?.says).toContain('cable is pulled')
  await cable.plugIn()
  await state('loose', 'listening')
  await cable.print('{"n": 1}\n')
  await until(
    () => value('loose', '/n'),
    (found) => found === 1,
  )
  await cable.pull()
  await state('loose', 'missing')
  await cable.plugIn()
  await state('loose', 'listening')
  await cable.print('{"n": 2}\n')
  await until(
    () => value('loose', '/n'),
    (found) => found === 2,
  )
  await cable.pull()
})

it('says when another program holds the port, and takes it when it is let go', async () => {
  const cable = new Cable('ttyD')
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

it('says when lines come at the wrong speed', async () => {
  const cable = new Cable('ttyE')
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
  const cable = new Cable('ttyF')
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
