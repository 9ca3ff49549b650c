import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { routes } from '@jaunty-sparrow/contract'
import { programKinds } from '@jaunty-sparrow/core/program'
import { untoldAlarm } from '@jaunty-sparrow/core/signal'
import { compileSketch } from '../testing/compileSketch.ts'
import { serverUnderTest } from '../testing/serverUnderTest.ts'
import { whatItSays } from '../testing/whatItSays.ts'

const board = fileURLToPath(new URL('./board', import.meta.url))
const commands: Readonly<Record<string, readonly string[]>> = {
  python: ['python3', '-u', 'send.py'],
  micropython: ['python3', '-u', 'main.py'],
  node: [process.execPath, 'send.mjs'],
  shell: ['sh', 'send.sh'],
  'cpp-http': ['./board'],
}
const kinds = programKinds.filter(({ key }) => key in commands)
const running: ChildProcess[] = []
const folders: string[] = []
afterEach(async () => {
  for (const child of running.splice(0)) {
    const ended = once(child, 'close')
    child.kill('SIGKILL')
    await ended
  }
  for (const folder of folders.splice(0)) rmSync(folder, { recursive: true, force: true })
})

/** Starts a program in its folder, with what it kept there. */
function start(key: string, folder: string) {
  const [program = '', ...args] = commands[key] ?? []
  const child = spawn(program, args, {
    cwd: folder,
    env: { ...process.env, PYTHONPATH: board, PYTHONDONTWRITEBYTECODE: '1' },
  })
  running.push(child)
  return { child, ...whatItSays(child) }
}

describe.each(kinds)('the program in $name', ({ key, write }) => {
  it('drives lamp and buzzer by what it hears, and by what it heard last when nobody is there', async () => {
    const guard = {
      limits: { 'air/damp': { low: 82, high: 98, deadband: 1, after: 0, back: 0 } },
      alarm: 'urgent' as string | null,
    }
    const asked: string[] = []
    const stub = createServer(async (request, response) => {
      for await (const _ of request);
      asked.push(request.url ?? '')
      response.writeHead(200).end(JSON.stringify({ stored: 1, refused: [], refusedTotal: 0, guard }))
    }).listen(0, '127.0.0.1')
    await once(stub, 'listening')
    const folder = mkdtempSync(join(tmpdir(), 'sparrow-guarding-'))
    folders.push(folder)
    const target = {
      address: 'cave',
      url: `http://127.0.0.1:${(stub.address() as AddressInfo).port}`,
      mqtt: { host: '127.0.0.1', port: 1, isEncrypted: false },
      seconds: 1,
      sleeps: false,
      fields: [{ pointer: '/air/damp', kind: 'number' as const, last: 80.125 }],
      controlled: [],
      guards: true,
    }
    const put = (value: number) => {
      for (const { name, text } of write(target, 'secret'))
        writeFileSync(
          join(folder, name),
          text.replace('80.125', String(value)).replace(/(ALONE_AFTER|aloneAfter)( ?)=( ?)60/, '$1$2=$31'),
        )
      if (key.startsWith('cpp')) expect(compileSketch(folder)).toEqual([0, ''])
    }
    put(80)
    const first = start(key, folder)
    await first.says(/lamp on/)
    await first.says(/buzzer on/)
    expect(asked[0]).toBe('/in?limits')
    // Somebody sees to it: the buzzer is silent, and the lamp says what is.
    guard.alarm = null
    await first.says(/buzzer off/)
    expect(first.said()).not.toContain('lamp off')
    stub.close()
    stub.closeAllConnections()
    // The line is cut: after a while it guards by itself.
    await first.says(/buzzer off[\s\S]*buzzer on/)
    const ended = once(first.child, 'close')
    running.splice(running.indexOf(first.child), 1)[0]?.kill('SIGKILL')
    await ended

    // The power was cut too: what it heard last holds.
    const again = start(key, folder)
    await again.says(/lamp on/)
    await again.says(/buzzer on/)
    running.splice(running.indexOf(again.child), 1)[0]?.kill('SIGKILL')
    put(90)
    const within = start(key, folder)
    await within.says(/lamp off/)
  }, 60_000)
})

const program = (key: string) => {
  const kind = programKinds.find((each) => each.key === key)
  if (!kind) throw new Error(`there is no program ${key}`)
  return kind
}

it('guards in C++ on a cable: it asks for its limits, and keeps them over a power cut', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-guarding-'))
  folders.push(folder)
  const mqtt = { host: '127.0.0.1', port: 1, isEncrypted: false }
  const fields = [{ pointer: '/air/damp', kind: 'number' as const, last: 80.125 }]
  const target = {
    address: 'cave',
    url: '',
    mqtt,
    seconds: 1,
    sleeps: false,
    fields,
    controlled: [],
    guards: true,
  }
  for (const { name, text } of program('cpp-serial').write(target, ''))
    writeFileSync(
      join(folder, name),
      // What a lamp shows is printed here, where nobody sees one.
      text
        .replace('(void)isOn;', 'Serial.println(isOn ? "lamp on" : "lamp off");')
        .replace('(void)isOn;', 'Serial.println(isOn ? "buzzer on" : "buzzer off");'),
    )
  expect(compileSketch(folder)).toEqual([0, ''])
  const plug = () => {
    const child = spawn(join(folder, 'board'), [], { cwd: folder })
    running.push(child)
    return { child, ...whatItSays(child) }
  }
  const first = plug()
  await first.says(/limits\?/)
  expect(first.said()).not.toContain('lamp on')
  first.child.stdin.write(
    '{"limits":{"air/damp":{"low":82,"high":98,"deadband":1,"after":0,"back":0}},"alarm":"urgent"}\n',
  )
  await first.says(/lamp on/)
  await first.says(/buzzer on/)
  first.child.stdin.write(
    '{"limits":{"air/damp":{"low":82,"high":98,"deadband":1,"after":0,"back":0}},"alarm":null}\n',
  )
  await first.says(/buzzer off/)
  first.child.stdin.write(`${'x'.repeat(5000)}\n{"limits":{},"alarm":null}\n`)
  await first.says(/lamp off/)
  first.child.stdin.write(
    '{"limits":{"air/damp":{"lowLow":81,"deadband":0,"after":5,"back":0}},"alarm":null}\n',
  )
  await first.says(/lamp off[\s\S]*lamp on/)
  const ended = once(first.child, 'close')
  running.splice(running.indexOf(first.child), 1)[0]?.kill('SIGKILL')
  await ended
  await plug().says(/lamp on/)
})

it('guards in C++ over MQTT by what the broker keeps, until somebody sees to it', async () => {
  const server = await serverUnderTest()
  try {
    const limits = { lowLow: null, low: 82, high: 98, highHigh: null, deadband: 1, onDelay: 0, offDelay: 0 }
    const low = {
      ...untoldAlarm,
      key: 'low',
      occasion: { by: 'limit', limit: 'low' },
      priority: 'urgent',
    } as const
    const { body: kit } = await server.owner.call(routes.createKit, {
      body: {
        name: 'Cave',
        cadence: { by: 'event' },
        signals: [{ field: '/air/damp', name: 'Humidity', kind: 'number', limits, alarms: [low] }],
      },
    })
    const { address, secret } = await server.owner.createDevice('cave', kit.id)
    const folder = mkdtempSync(join(tmpdir(), 'sparrow-guarding-'))
    folders.push(folder)
    const mqtt = { host: '127.0.0.1', port: server.mqttPort, isEncrypted: false }
    const fields = [{ pointer: '/air/damp', kind: 'number' as const, last: 80.125 }]
    const target = {
      address,
      url: server.origin,
      mqtt,
      seconds: 1,
      sleeps: false,
      fields,
      controlled: [],
      guards: true,
    }
    for (const { name, text } of program('cpp-mqtt').write(target, secret))
      writeFileSync(join(folder, name), text)
    expect(compileSketch(folder)).toEqual([0, ''])
    const child = spawn(join(folder, 'board'), [], { cwd: folder })
    running.push(child)
    const { says } = whatItSays(child)
    await says(/lamp on/)
    await says(/buzzer on/)
    const { signals } = await server.owner.device(address)
    const body = { alarms: [`${signals[0]?.id}.low`], move: 'acknowledge' } as const
    await server.owner.call(routes.moveAlarms, { body: { ...body, alarms: [...body.alarms] } })
    await says(/buzzer on[\s\S]*buzzer off/)
  } finally {
    await server.close()
  }
}, 60_000)
