import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { programKinds } from '@jaunty-sparrow/core/program'
import { whatItSays } from '../testing/whatItSays.ts'

const board = fileURLToPath(new URL('./board', import.meta.url))
const commands: Readonly<Record<string, readonly string[]>> = {
  python: ['python3', '-u', 'send.py'],
  micropython: ['python3', '-u', 'main.py'],
  node: [process.execPath, 'send.mjs'],
  shell: ['sh', 'send.sh'],
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
