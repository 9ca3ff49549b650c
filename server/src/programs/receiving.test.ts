import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { type Command, routes } from '@jaunty-sparrow/contract'
import { type ProgramKind, programKinds } from '@jaunty-sparrow/core/program'
import { Cable } from '../testing/cable.ts'
import { compileSketch } from '../testing/compileSketch.ts'
import { freePort } from '../testing/freePort.ts'
import { LiveLine } from '../testing/liveLine.ts'
import { run as runToEnd } from '../testing/run.ts'
import { type ServerUnderTest, serverUnderTest } from '../testing/serverUnderTest.ts'
import { whatItSays } from '../testing/whatItSays.ts'

const board = fileURLToPath(new URL('./board', import.meta.url))
const commands: Readonly<Record<string, readonly string[]>> = {
  python: ['python3', '-u', 'send.py'],
  micropython: ['python3', '-u', 'main.py'],
  node: [process.execPath, 'send.mjs'],
  shell: ['sh', 'send.sh'],
  'cpp-http': ['./board'],
  'cpp-mqtt': ['./board'],
}
const kinds = programKinds.filter(({ key }) => key in commands && key !== 'cpp-mqtt')
const byMqtt = programKinds.find(({ key }) => key === 'cpp-mqtt') as ProgramKind
const running: ChildProcess[] = []
const folders: string[] = []
let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterEach(async () => {
  for (const child of running.splice(0)) {
    const ended = once(child, 'close')
    child.kill('SIGKILL')
    await ended
  }
})
afterAll(async () => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true })
  await server.close()
})

/** The program as it is copied, running. */
function run(
  kind: ProgramKind,
  url: string,
  address: string,
  secret: string,
  change = (text: string) => text,
  mqttPort = 1,
) {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-receiving-'))
  folders.push(folder)
  const mqtt = { host: '127.0.0.1', port: mqttPort, isEncrypted: false }
  const controlled = [
    { pointer: '/fogger', kind: 'switch' as const },
    { pointer: '/lamp/red', kind: 'number' as const },
  ]
  const target = { address, url, mqtt, seconds: 1, sleeps: false, fields: [], controlled, guards: false }
  for (const { name, text } of kind.write(target, secret)) writeFileSync(join(folder, name), change(text))
  if (kind.key.startsWith('cpp')) expect(compileSketch(folder)).toEqual([0, ''])
  const [program = '', ...args] = commands[kind.key] ?? []
  const child = spawn(program, args, {
    cwd: folder,
    env: { ...process.env, PYTHONPATH: board, PYTHONDONTWRITEBYTECODE: '1' },
  })
  running.push(child)
  return whatItSays(child)
}

it.each([...kinds, byMqtt])(
  'does what it is asked for, says so, and tells its state from then on: $name',
  async (kind) => {
    const { owner, origin } = server
    const control = (field: string, name: string, kind: 'switch' | 'number') =>
      ({ field, name, kind, origin: 'controlled' }) as const
    const { body: kit } = await owner.call(routes.createKit, {
      body: {
        name: `Cave of ${kind.key}`,
        cadence: null,
        signals: [control('/fogger', 'Fogger', 'switch'), control('/lamp/red', 'Red', 'number')],
      },
    })
    const { address, secret } = await owner.createDevice(`cave-${kind.key}`, kit.id)
    const { signals } = await owner.device(address)
    const red = signals.find(({ name }) => name === 'Red')?.id ?? 0
    const line = await LiveLine.open(origin, owner.cookie, { subscribe: [red] })
    const { says } = run(kind, origin, address, secret, undefined, server.mqttPort)
    const { body } = await owner.call(routes.requestCommands, { body: { signals: [red], value: 40 } })
    const id = body[0]?.command?.id
    await line.hear((frame) =>
      frame.kind === 'commands'
        ? frame.commands.find((each: Command) => each.id === id && each.state === 'confirmed')
        : undefined,
    )
    await says(/sets lamp\/red to 40/)
    expect((await owner.device(address)).signals.find(({ name }) => name === 'Red')?.latest?.value).toBe(40)
    line.close()
  },
)

describe.each(kinds)('the program in $name', (kind) => {
  it('obeys nothing twice, nothing that is late, and nothing it does not have', async () => {
    const later = Date.now() + 600_000
    const stub = await telling([
      { id: 5, signal: 'fogger', value: true, until: later },
      { id: 5, signal: 'fogger', value: true, until: later },
      { id: 6, signal: 'fogger', value: false, until: Date.now() - 1 },
      { id: 7, signal: 'oven', value: true, until: later },
    ])
    const program = run(kind, stub.url, 'cave', 'secret')
    expect(await stub.said).toEqual([
      { id: 5, says: 'done', value: true },
      { id: 5, says: 'done', value: true },
      { id: 6, says: 'expired' },
      { id: 7, says: 'refused', why: 'this board has no oven' },
    ])
    expect(program.said().match(/sets fogger/g)).toHaveLength(1)
    stub.server.close()
  })

  it('goes safe when nobody is there for long', async () => {
    const stub = await telling([{ id: 5, signal: 'fogger', value: true, until: Date.now() + 600_000 }])
    const program = run(kind, stub.url, 'cave', 'secret', (text) =>
      text.replace(/(SAFE_AFTER|safeAfter)( ?)=( ?)120/, '$1$2=$32'),
    )
    await stub.said
    stub.server.close()
    stub.server.closeAllConnections()
    await program.says(/sets fogger to false/i)
  })
})

it('obeys nothing twice and nothing that is late in C++ over MQTT, whosever the broker is', async () => {
  const port = await freePort()
  const broker = spawn('/usr/sbin/mosquitto', ['-v', '-p', String(port)], {
    stdio: ['ignore', 'ignore', 'pipe'],
  })
  running.push(broker)
  const { says: brokerSays } = whatItSays(broker)
  await brokerSays(/ running/)
  const heard = spawn('stdbuf', [
    ...['-oL', 'mosquitto_sub', '-p', String(port), '-i', 'ear', '-t', 'sparrow/cave/state/#', '-F', '%t %p'],
  ])
  running.push(heard)
  const { said, says } = whatItSays(heard)
  await brokerSays(/Sending SUBACK to ear/)
  const program = run(byMqtt, 'http://127.0.0.1:1', 'cave', 'secret', undefined, port)
  await brokerSays(/Sending SUBACK to cave/)
  const later = Date.now() + 600_000
  const told = [
    ['fogger', { id: 5, value: true, until: later }],
    ['fogger', { id: 5, value: true, until: later }],
    ['lamp/red', { id: 6, value: 40, until: Date.now() - 1000 }],
    ['oven', { id: 7, value: true, until: later }],
  ] as const
  for (const [name, command] of told) {
    const { code } = await runToEnd('mosquitto_pub', [
      ...['-p', String(port), '-q', '1', '-t', `sparrow/cave/set/${name}`, '-m', JSON.stringify(command)],
    ])
    expect(code).toBe(0)
  }
  await says(/oven/)
  expect(said().trim().split('\n')).toEqual([
    'sparrow/cave/state/fogger {"id":5,"says":"done","value":true}',
    'sparrow/cave/state/fogger {"id":5,"says":"done","value":true}',
    'sparrow/cave/state/lamp/red {"id":6,"says":"expired"}',
    'sparrow/cave/state/oven {"id":7,"says":"refused","why":"this board has no oven"}',
  ])
  expect(program.said().match(/sets fogger/g)).toHaveLength(1)
})

describe('the program in C++ on a cable', () => {
  const controlled = [
    { pointer: '/fogger', kind: 'switch' as const },
    { pointer: '/lamp/red', kind: 'number' as const },
    { pointer: '/flash', kind: 'momentary' as const },
  ]

  /** The program, compiled. @returns its folder */
  function compiled(change = (text: string) => text): string {
    const folder = mkdtempSync(join(tmpdir(), 'sparrow-receiving-'))
    folders.push(folder)
    const kind = programKinds.find(({ key }) => key === 'cpp-serial')
    const mqtt = { host: '127.0.0.1', port: 1, isEncrypted: false }
    const fields = [{ pointer: '/lamp/heat', kind: 'number' as const, last: 31.5 }]
    const target = {
      address: 'cave',
      url: '',
      mqtt,
      seconds: 1,
      sleeps: false,
      fields,
      controlled,
      guards: false,
    }
    for (const { name, text } of kind?.write(target, '') ?? [])
      writeFileSync(join(folder, name), change(text))
    expect(compileSketch(folder)).toEqual([0, ''])
    return folder
  }
  const start = (folder: string) => {
    const child = spawn(join(folder, 'board'), { cwd: folder })
    running.push(child)
    return { child, ...whatItSays(child) }
  }

  it('does what comes down the cable, and is confirmed by its own answer', async () => {
    const { owner } = server
    const { body: kit } = await owner.call(routes.createKit, {
      body: {
        name: 'Cable cave',
        cadence: null,
        signals: [
          { field: '/lamp/red', name: 'Red', kind: 'number', origin: 'controlled' },
          { field: '/lamp/heat', name: 'Heat', kind: 'number' },
        ],
      },
    })
    const { address } = await owner.createDevice('cable-cave', kit.id)
    const red = (await owner.device(address)).signals.find(({ name }) => name === 'Red')?.id ?? 0
    const folder = compiled()
    const cable = new Cable(folder, 'ttyBoard')
    await cable.plugIn()
    await owner.call(routes.setSerialPort, {
      params: { address },
      body: { path: cable.port, speed: 9600, csvHeader: null },
    })
    const line = await LiveLine.open(owner.origin, owner.cookie, { subscribe: [red] })
    running.push(spawn('sh', ['-c', 'exec ./board <ttyBoard-board >ttyBoard-board'], { cwd: folder }))
    await owner.until(
      async () => (await owner.device(address)).signals,
      (signals) => signals.some(({ name, latest }) => name === 'Heat' && latest?.value === 31.5),
    )
    const { body } = await owner.call(routes.requestCommands, { body: { signals: [red], value: 40 } })
    await line.hear((frame) =>
      frame.kind === 'commands'
        ? frame.commands.find(({ id, state }) => id === body[0]?.command?.id && state === 'confirmed')
        : undefined,
    )
    line.close()
    await cable.pull()
  })

  it('obeys nothing twice, also after a power cut, and nothing it does not have', async () => {
    const folder = compiled()
    const first = start(folder)
    const tell = (program: typeof first, told: object) =>
      program.child.stdin.write(`${JSON.stringify(told)}\n`)
    tell(first, { set: 'fogger', id: 5, value: true, until: 1 })
    await first.says(/"id":5,"says":"done","value":true/)
    await first.says(/\{"lamp":\{"heat":31\.500,"red":0\},"fogger":true\}/)
    tell(first, { set: 'oven', id: 6, value: true, until: 1 })
    await first.says(/\{"state":"oven","id":6,"says":"refused","why":"this board has no oven"\}/)
    tell(first, { set: 'flash', id: 7, value: 1, until: 1 })
    await first.says(/\{"state":"flash","id":7,"says":"done"\}/)
    first.child.stdin.write(`${'x'.repeat(5000)}\n`)
    tell(first, { set: 'lamp/red', id: 8, value: 55, until: 1 })
    await first.says(/\{"state":"lamp\/red","id":8,"says":"done","value":55\}/)
    const ended = once(first.child, 'close')
    running.splice(running.indexOf(first.child), 1)[0]?.kill('SIGKILL')
    await ended

    const again = start(folder)
    tell(again, { set: 'fogger', id: 5, value: true, until: 1 })
    // It did so before the cut, and is off since: it says how it is.
    await again.says(/"id":5,"says":"done","value":false/)
    tell(again, { set: 'fogger', id: 9, value: true, until: 1 })
    await again.says(/"id":9,"says":"done","value":true/)
  })

  it('goes safe when it hears nothing for long', async () => {
    const folder = compiled((text) => text.replace('SAFE_AFTER = 120', 'SAFE_AFTER = 2'))
    const program = start(folder)
    program.child.stdin.write('{"set":"fogger","id":5,"value":true,"until":1}\n')
    await program.says(/"fogger":true/)
    await program.says(/"fogger":false\}\s*$/)
  })
})

/** A server that tells a board something else with each message. */
async function telling(
  answers: readonly object[],
): Promise<{ url: string; said: Promise<object[]>; server: Server }> {
  const said: object[] = []
  let place = 0
  let over: (said: object[]) => void = () => undefined
  const all = new Promise<object[]>((resolve) => {
    over = resolve
  })
  const stub = createServer(async (request, response) => {
    let body = ''
    for await (const chunk of request) body += chunk
    if (request.url?.startsWith('/state')) {
      said.push(JSON.parse(body))
      response.writeHead(204).end()
      if (said.length === answers.length) over(said)
    } else {
      const commands = answers.slice(place, ++place)
      response.writeHead(200).end(JSON.stringify({ stored: 1, refused: [], refusedTotal: 0, commands }))
    }
  })
  stub.listen(0, '127.0.0.1')
  await once(stub, 'listening')
  return { url: `http://127.0.0.1:${(stub.address() as AddressInfo).port}`, said: all, server: stub }
}
