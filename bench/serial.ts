import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { open } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import { routes } from '@jaunty-sparrow/contract'
import pg from 'pg'
import { whole } from './median.ts'
import { startSparrow } from './server.ts'

const speed = 115_200
const seconds = 10
const burst = 20

/** Lines as fast as the wire carries them, ten bits to a byte, through a pseudo-terminal. */
export async function serial(databaseUrl: string): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-bench-serial-'))
  const [path, boardEnd] = [join(folder, 'port'), join(folder, 'board')]
  const socat = spawn('socat', [`PTY,link=${path},rawer`, `PTY,link=${boardEnd},rawer`])
  while (!existsSync(path) || !existsSync(boardEnd)) await pause(20)
  const sparrow = await startSparrow(databaseUrl)
  await sparrow.owner.createDevice('meter', ['n'])
  await sparrow.owner.call(routes.setSerialPort, {
    params: { address: 'meter' },
    body: { path, speed, csvHeader: null },
  })
  const state = async () => {
    const [device] = await sparrow.owner.call(routes.listDevices)
    return device?.serial?.state
  }
  while ((await state()) !== 'listening') await pause(50)
  const board = await open(boardEnd, 'r+')
  const begin = performance.now()
  let bytes = 0
  let lines = 0
  while (performance.now() - begin < seconds * 1000) {
    const text = Array.from({ length: burst }, () => `{"n": ${lines++}, "spare": 12.345678}\n`).join('')
    await board.write(text)
    bytes += text.length
    await pause(Math.max(0, (bytes * 10_000) / speed - (performance.now() - begin)))
  }
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  const stored = async () =>
    (
      await client.query('select count(*)::int as n from message where device_id = 1 and outcome <> $1', [
        'refused',
      ])
    ).rows[0].n as number
  for (let look = 0; (await stored()) < lines && look < 100; look++) await pause(100)
  const lost = lines - (await stored())
  await client.end()
  await board.close()
  const ended = once(socat, 'exit')
  socat.kill()
  await ended
  await sparrow.stop()
  rmSync(folder, { recursive: true, force: true })
  return [
    `| serial, ${whole(speed)} baud filled for ${seconds} s: ${whole(lines / seconds)} lines/s | ${lost} of ${whole(lines)} lines lost | none |`,
  ]
}
