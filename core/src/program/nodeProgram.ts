import { nodeGuarding } from './guarding.ts'
import { inbox, messageOf, type ProgramField, type ProgramKind, safeStates } from './program.ts'

export const nodeProgram: ProgramKind = {
  key: 'node',
  name: 'Node',
  says: 'For a small computer with Node 18 or later; nothing else is installed.',
  write: ({ address, url, seconds, fields, controlled, guards }, secret) => [
    {
      name: 'secrets.json',
      isSecret: true,
      text: `${JSON.stringify({ address, secret }, null, 2)}\n`,
    },
    {
      name: 'send.mjs',
      text: `// Sends what ${address} measures. Run it with: node send.mjs
import { ${controlled.length > 0 || guards ? 'existsSync, readFileSync, writeFileSync' : 'readFileSync'} } from 'node:fs'
import { setTimeout as rest } from 'node:timers/promises'

const server = ${JSON.stringify(url)}
const every = ${seconds} // seconds
const mostWaiting = 500 // readings that are kept while there is no way to the server
const secrets = JSON.parse(readFileSync(new URL('secrets.json', import.meta.url), 'utf8'))

/** The one place to fill in: what the sensors say now. */
async function read() {
  return ${JSON.stringify(messageOf(fields))}
}

${controlled.length > 0 ? receiving(controlled) : ''}${guards ? nodeGuarding : ''}const post = (path, body) =>
  fetch(server + path, {
    method: 'POST',
    headers: {
      'Content-Type': 'application/json',
      Authorization: 'Bearer ' + secrets.address + '.' + secrets.secret,
    },
    body: JSON.stringify(body),
    signal: AbortSignal.timeout(20_000),
  })

/** Sends what waits. Tells whether it is done with, and how long the server asks to wait, s. */
async function send(waiting) {
  let answer
  try {
    answer = await post('${inbox({ controlled, guards })}', waiting)
  } catch (error) {
    console.log('No way to ' + server + ': ' + (error.cause?.message ?? error.message) + '. It is tried again.')
    return { done: false, wait: 0 }
  }
  const told = await answer.json().catch(() => ({}))
  if (answer.ok) {
    for (const { field, reason } of told.refused ?? []) console.log('Refused: ' + field + ' - ' + reason)
${controlled.length > 0 ? '    for (const command of told.commands ?? []) await take(command)\n' : ''}${guards ? '    heardGuard(told.guard ?? guarded)\n' : ''}    return { done: true, wait: 0 }
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
${controlled.length > 0 || guards ? 'let heard = performance.now()\n' : ''}for (;;) {
  const began = performance.now()
  const reading = await read()
${controlled.length > 0 ? '  tellStates(reading)\n' : ''}  if (Date.now() > 1.7e12) reading.t = Date.now()
  else {
    console.log('The clock is not set: the server stamps what it gets, and nothing is kept meanwhile.')
    waiting = []
  }
  waiting = [...waiting, reading].slice(-mostWaiting)
  if (began >= nextTry) {
    const { done, wait } = await send(waiting)
    failures = done ? 0 : failures + 1
    if (done) waiting = []
${controlled.length > 0 || guards ? '    if (done) heard = performance.now()\n' : ''}    nextTry = performance.now() + 1000 * Math.max(wait, done ? 0 : Math.min(300, 2 ** Math.min(failures, 8)))
  }
${controlled.length > 0 ? '  if (performance.now() - heard > safeAfter * 1000) await makeSafe()\n' : ''}${guards ? '  guard(reading, performance.now() - heard > aloneAfter * 1000)\n' : ''}  await rest(Math.max(0, every * 1000 - (performance.now() - began)))
}
`,
    },
  ],
}

/** The side that is told something: it obeys no command twice and none that is late, and goes safe when nobody is there. */
const receiving = (
  controlled: readonly ProgramField[],
): string => `const safeAfter = 120 // seconds without the server
const safe = ${JSON.stringify(safeStates(controlled))} // what can be asked for, with its safe state; what is momentary has none
const states = { ...safe }
const obeyed = new URL('obeyed.json', import.meta.url) // the number of the last command of each
const last = existsSync(obeyed) ? JSON.parse(readFileSync(obeyed, 'utf8')) : {}

/** The other place to fill in: switch or set it. Tells why not, if it must not be; else nothing. */
async function obey(signal, value) {
  console.log('sets ' + signal + ' to ' + value)
}

async function makeSafe() {
  for (const [signal, value] of Object.entries(safe)) {
    if (value === null || states[signal] === value) continue
    await obey(signal, value)
    states[signal] = value
  }
}

/** Obeys a command once and in time, and says so. */
async function take({ id, signal, value, until }) {
  const answer = { id, says: 'done' }
  if (!Object.hasOwn(safe, signal)) Object.assign(answer, { says: 'refused', why: 'this board has no ' + signal })
  else if (id > (last[signal] ?? 0)) {
    if (Date.now() > until) answer.says = 'expired'
    else {
      last[signal] = id
      // Before it is done: cut off in between, it is not done twice.
      writeFileSync(obeyed, JSON.stringify(last))
      const why = await obey(signal, value)
      if (why) Object.assign(answer, { says: 'refused', why })
      else if (safe[signal] !== null) states[signal] = value
    }
  }
  if (answer.says === 'done' && safe[signal] !== null) answer.value = states[signal]
  await post('/state/' + signal, answer).catch((error) => console.log('The answer did not get there: ' + error.message))
}

/** What each is now goes with what is measured. */
function tellStates(reading) {
  for (const [signal, value] of Object.entries(states)) {
    if (value === null) continue
    const folders = signal.split('/')
    const name = folders.pop()
    let place = reading
    for (const folder of folders) place = place[folder] ??= {}
    place[name] = value
  }
}

`
