import { messageOf, type ProgramKind } from './program.ts'

export const nodeProgram: ProgramKind = {
  key: 'node',
  name: 'Node',
  says: 'For a small computer with Node 18 or later; nothing else is installed.',
  write: ({ address, url, seconds, fields }, secret) => [
    {
      name: 'secrets.json',
      isSecret: true,
      text: `${JSON.stringify({ address, secret }, null, 2)}\n`,
    },
    {
      name: 'send.mjs',
      text: `// Sends what ${address} measures. Run it with: node send.mjs
import { readFileSync } from 'node:fs'
import { setTimeout as rest } from 'node:timers/promises'

const server = ${JSON.stringify(url)}
const every = ${seconds} // seconds
const mostWaiting = 500 // readings that are kept while there is no way to the server
const secrets = JSON.parse(readFileSync(new URL('secrets.json', import.meta.url), 'utf8'))

/** The one place to fill in: what the sensors say now. */
async function read() {
  return ${JSON.stringify(messageOf(fields))}
}

/** Sends what waits. Tells whether it is done with, and how long the server asks to wait, s. */
async function send(waiting) {
  let answer
  try {
    answer = await fetch(server + '/in', {
      method: 'POST',
      headers: {
        'Content-Type': 'application/json',
        Authorization: 'Bearer ' + secrets.address + '.' + secrets.secret,
      },
      body: JSON.stringify(waiting),
      signal: AbortSignal.timeout(20_000),
    })
  } catch (error) {
    console.log('No way to ' + server + ': ' + (error.cause?.message ?? error.message) + '. It is tried again.')
    return { done: false, wait: 0 }
  }
  const told = await answer.json().catch(() => ({}))
  if (answer.ok) {
    for (const { field, reason } of told.refused ?? []) console.log('Refused: ' + field + ' - ' + reason)
    return { done: true, wait: 0 }
  }
  if (answer.status === 401) {
    console.error('The server does not take this address and secret: ' + told.detail + ' Put the right ones into secrets.json.')
    process.exit(1)
  }
  console.log('The server answered ' + answer.status + ': ' + (told.detail ?? answer.statusText))
  // What is wrong in itself is wrong the next time too; what the server cannot take now is sent again.
  const later = answer.status === 429 || answer.status >= 500
  return { done: !later, wait: Number(answer.headers.get('Retry-After') ?? 0) }
}

let waiting = []
let failures = 0
let nextTry = 0
for (;;) {
  const began = performance.now()
  const reading = await read()
  if (Date.now() > 1.7e12) reading.t = Date.now()
  else {
    console.log('The clock is not set: the server stamps what it gets, and nothing is kept meanwhile.')
    waiting = []
  }
  waiting = [...waiting, reading].slice(-mostWaiting)
  if (began >= nextTry) {
    const { done, wait } = await send(waiting)
    failures = done ? 0 : failures + 1
    if (done) waiting = []
    nextTry = performance.now() + 1000 * Math.max(wait, done ? 0 : Math.min(300, 2 ** Math.min(failures, 8)))
  }
  await rest(Math.max(0, every * 1000 - (performance.now() - began)))
}
`,
    },
  ],
}
