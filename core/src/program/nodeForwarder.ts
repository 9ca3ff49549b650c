import type { ProgramKind } from './program.ts'

export const nodeForwarder: ProgramKind = {
  key: 'forwarder-node',
  name: 'Forwarder in Node',
  says: 'For a board on a cable to some other computer: it sends what the board prints to the server. It needs: npm install serialport',
  write: ({ address, url }, secret) => [
    {
      name: 'secrets.json',
      isSecret: true,
      text: `${JSON.stringify({ address, secret }, null, 2)}\n`,
    },
    {
      name: 'forward.mjs',
      text: `// Sends what a board prints on a cable to the server, as ${address}. Run it with: node forward.mjs /dev/ttyUSB0 9600
import { readFileSync } from 'node:fs'
import { setTimeout as rest } from 'node:timers/promises'
import { SerialPort } from 'serialport'

const server = ${JSON.stringify(url)}
const mostWaiting = 5000 // lines that are kept while there is no way to the server
const atOnce = 200 // lines that are sent at a time
const secrets = JSON.parse(readFileSync(new URL('secrets.json', import.meta.url), 'utf8'))
const [path, speed = '9600'] = process.argv.slice(2)
if (!path) {
  console.log('Say which port, and how fast: node forward.mjs /dev/ttyUSB0 9600')
  process.exit(1)
}

const waiting = []
let came = () => {}
let isTold = false

/** Reads lines; a cable that was pulled is tried again. */
function listen() {
  const port = new SerialPort({ path, baudRate: Number(speed), autoOpen: false })
  let left = ''
  let isOver = false
  const again = (reason) => {
    if (isOver) return
    isOver = true
    if (!isTold) console.log(path + ' cannot be read: ' + reason + ' It is tried again every second.')
    isTold = true
    setTimeout(listen, 1000)
  }
  port.on('data', (bytes) => {
    const lines = (left + bytes.toString('utf8')).slice(-100_000).split('\\n')
    left = lines.pop()
    // What a board asks the server by cable has no answer here.
    for (const line of lines.map((each) => each.trim()).filter((each) => each !== '' && each !== 'limits?'))
      waiting.push({ at: Date.now(), line })
    waiting.splice(0, Math.max(0, waiting.length - mostWaiting))
    came()
  })
  port.on('close', () => again('it was pulled.'))
  port.on('error', (error) => again(error.message))
  port.open((error) => {
    if (error) return again(error.message)
    console.log('Listening to ' + path + ' at ' + speed + ' baud.')
    isTold = false
  })
}

function objectOf({ at, line }) {
  try {
    const reading = JSON.parse(line)
    if (typeof reading === 'object' && reading !== null && !Array.isArray(reading)) return { t: at, ...reading }
  } catch {
    // Some other line.
  }
  return undefined
}

/** What can be sent at once: objects of JSON together and with their times, any other line by itself. */
function bodyOf(lines) {
  const end = lines.findIndex((each) => objectOf(each) === undefined)
  const readings = (end < 0 ? lines : lines.slice(0, end)).map(objectOf)
  if (readings.length > 0) return { count: readings.length, type: 'application/json', body: JSON.stringify(readings) }
  const [{ line }] = lines
  return { count: 1, type: /^[[{]/.test(line) ? 'application/json' : 'text/x.pairs', body: line }
}

/** Tells whether it is done with, and how long the server asks to wait, s. */
async function send({ type, body }) {
  let answer
  try {
    answer = await fetch(server + '/in', {
      method: 'POST',
      headers: { 'Content-Type': type, Authorization: 'Bearer ' + secrets.address + '.' + secrets.secret },
      body,
      signal: AbortSignal.timeout(20_000),
    })
  } catch (error) {
    console.log('No way to ' + server + ': ' + (error.cause?.message ?? error.message) + '. It is tried again.')
    return { done: false, wait: 0 }
  }
  const told = await answer.text()
  if (answer.ok) {
    if (told) console.log('Partly refused: ' + told)
    return { done: true, wait: 0 }
  }
  if (answer.status === 401) {
    console.error('The server does not take this address and secret. Put the right ones into secrets.json. ' + told)
    process.exit(1)
  }
  console.log('The server answered ' + answer.status + ': ' + told)
  const later = answer.status === 429 || answer.status >= 500
  return { done: !later, wait: Number(answer.headers.get('Retry-After') ?? 0) }
}

listen()
let failures = 0
for (;;) {
  if (waiting.length === 0) await new Promise((resolve) => (came = resolve))
  const lines = waiting.slice(0, atOnce)
  const sent = bodyOf(lines)
  const { done, wait } = await send(sent)
  if (done) {
    failures = 0
    // Meanwhile the oldest may have gone, where too many waited.
    const gone = new Set(lines.slice(0, sent.count))
    while (gone.has(waiting[0])) waiting.shift()
  } else {
    failures = Math.min(failures + 1, 8)
    await rest(1000 * Math.max(wait, Math.min(300, 2 ** failures)))
  }
}
`,
    },
  ],
}
