import { once } from 'node:events'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { setTimeout as rest } from 'node:timers/promises'
import { routes } from '@jaunty-sparrow/contract'
import { type Alarm, type Limits, untoldAlarm } from '@jaunty-sparrow/core/signal'
import { WebSocket } from 'ws'
import { median, quantile } from './median.ts'
import { startSparrow } from './server.ts'
import { SteadyLoad, shares, windowMs } from './steadyLoad.ts'

const devices = 500
/** Of each device, each with an alarm. */
const signals = 20
/** Messages of each device a second; so 5,000 readings. */
const rate = 0.5
const probes = 300
/** At once, in one second. */
const storm = 2000
const month = 30 * 86_400
/** How often something was measured in the month that is tried, s. */
const every = 30
const trials = 5

type Sparrow = Awaited<ReturnType<typeof startSparrow>>

const beyond = (high: number, deadband: number): Limits => ({
  lowLow: null,
  low: null,
  high,
  highHigh: null,
  deadband,
  onDelay: 0,
  offDelay: 0,
})
const tooHigh: Alarm = {
  ...untoldAlarm,
  key: 'high',
  occasion: { by: 'limit', limit: 'high' },
  priority: 'urgent',
}

/** What ten thousand alarms take of the machine, how soon one is seen, what a storm of them does, and how long a trial takes. */
export async function alarms(databaseUrl: string): Promise<string[]> {
  const sparrow = await startSparrow(databaseUrl)
  const { owner, url } = sparrow
  const site = await owner.call(routes.createSite, { body: { name: 'Alarms', timeZone: 'UTC' } })
  const fields = Array.from({ length: signals }, (_, n) => `s${n}`)
  const kit = await owner.call(routes.createKit, {
    body: {
      name: 'Node',
      cadence: { by: 'always', seconds: 1 / rate },
      signals: fields.map((name) => ({ field: `/${name}`, name, kind: 'number' as const })),
    },
  })
  const tokens: string[] = []
  for (let n = 0; n < devices; n++) {
    const address = `node-of-alarms-${n}`
    const { secret } = await owner.call(routes.createDevice, {
      body: { name: address, address, siteId: site.id, kitId: kit.id },
    })
    tokens.push(`${address}.${secret}`)
  }
  const load = new SteadyLoad(url, tokens, fields, rate)
  load.start()
  await rest(windowMs / 2)
  const without = await shares()
  // Values are anywhere from 0 to 100: some five alarms are raised each two seconds, and as many return.
  for (const { id } of kit.signals)
    await owner.call(routes.changeSignalDefinition, {
      params: { definitionId: id },
      body: { limits: beyond(99.95, 50), alarms: [tooHigh] },
    })
  await rest(windowMs)
  const withAll = await shares()
  const seen = await seenAfter(sparrow, site.id)
  await load.stop()
  const stormy = await stormOf(sparrow, site.id)
  const trial = await tryMonth(sparrow, site.id)
  await sparrow.stop()
  const extra = median(withAll) - median(without)
  return [
    `| ${(devices * signals).toLocaleString('en')} alarms at ${(devices * signals * rate).toLocaleString('en')} readings/s: what they take of the machine beside ingest | ${(extra * 100).toFixed(0)} % (${(median(without) * 100).toFixed(0)} % busy without, ${(median(withAll) * 100).toFixed(0)} % with them) | goal ≤ 20 % |`,
    `| from sending a reading until its alarm is listed to a page, beside that load, p50 and p99 of ${probes} | ${quantile(seen, 0.5).toFixed(0)} ms, ${quantile(seen, 0.99).toFixed(0)} ms | goal p99 ≤ 300 ms |`,
    `| ${storm.toLocaleString('en')} alarms within a second: until all stand, to list them, notices sent | ${stormy.until.toFixed(0)} ms, ${stormy.list.toFixed(0)} ms, ${stormy.notices} | goal one notice |`,
    `| an alarm tried on ${month / 86_400} days at ${every} s (${(month / every).toLocaleString('en')} readings, raised ${trial.count} times) | ${trial.ms.toFixed(0)} ms | goal ≤ 1,000 ms |`,
  ]
}

async function post(url: string, token: string, body: string, type = 'application/json'): Promise<void> {
  const answer = await fetch(`${url}/in`, {
    method: 'POST',
    headers: { 'Content-Type': type, Authorization: `Bearer ${token}` },
    body,
  })
  if (answer.status !== 204) throw new Error(`it was answered ${answer.status}: ${await answer.text()}`)
}

/** A device with signals that have an alarm each. */
async function guarded({ owner }: Sparrow, siteId: number, address: string, fields: readonly string[]) {
  const kit = await owner.call(routes.createKit, {
    body: {
      name: `Kit of ${address}`,
      cadence: { by: 'event' },
      signals: fields.map((name) => ({
        field: `/${name}`,
        name,
        kind: 'number' as const,
        limits: beyond(50, 0),
        alarms: [tooHigh],
      })),
    },
  })
  const { device, secret } = await owner.call(routes.createDevice, {
    body: { name: address, address, siteId, kitId: kit.id },
  })
  return { device, token: `${address}.${secret}` }
}

/** How long it takes from sending a reading until a page that is told has listed its alarm, ms. */
async function seenAfter(sparrow: Sparrow, siteId: number): Promise<number[]> {
  const { owner, url } = sparrow
  const { device, token } = await guarded(sparrow, siteId, 'probe', ['p'])
  const id = `${device.signals[0]?.id}.high`
  const socket = new WebSocket(`${url.replace('http', 'ws')}/live`, {
    headers: { Cookie: owner.cookie, Origin: url },
  })
  await once(socket, 'open')
  socket.send(JSON.stringify({ subscribe: [] }))
  const told = async (is: (frame: { kind: string; changes?: { what: string }[] }) => boolean) => {
    for (;;) {
      const [data] = await once(socket, 'message')
      if (is(JSON.parse(String(data)))) return
    }
  }
  const took: number[] = []
  for (let n = 0; n < probes; n++) {
    const began = performance.now()
    const sent = post(url, token, '{"p":60}')
    for (;;) {
      await told(
        ({ kind, changes }) => kind === 'changed' && (changes ?? []).some(({ what }) => what === 'alarms'),
      )
      const { alarms: listed } = await owner.call(routes.listAlarms)
      if (listed.some((alarm) => alarm.id === id && alarm.isActive)) break
    }
    took.push(performance.now() - began)
    await sent
    await post(url, token, '{"p":40}')
    await owner.call(routes.moveAlarms, { body: { alarms: [id], move: 'acknowledge' } })
    await rest(150)
  }
  socket.close()
  return took
}

/** Many alarms in one second: until all of them stand, how long it takes to list them, and how many notices are sent. */
async function stormOf(sparrow: Sparrow, siteId: number) {
  const { owner, url } = sparrow
  let notices = 0
  const hook = createServer((request, response) => {
    request.resume().on('end', () => {
      notices++
      response.writeHead(204).end()
    })
  }).listen(0, '127.0.0.1')
  await once(hook, 'listening')
  const each = 100
  const boards: { token: string }[] = []
  for (let n = 0; n < storm / each; n++)
    boards.push(
      await guarded(
        sparrow,
        siteId,
        `storm-${n}`,
        Array.from({ length: each }, (_, m) => `s${m}`),
      ),
    )
  const all = await owner.call(routes.listAlarms)
  for (let from = 0; from < all.alarms.length; from += 500)
    await owner.call(routes.moveAlarms, {
      body: { alarms: all.alarms.slice(from, from + 500).map(({ id }) => id), move: 'acknowledge' },
    })
  const before = (await owner.call(routes.listAlarms)).inAll
  await owner.call(routes.createWay, {
    body: {
      siteId,
      kind: 'webhook',
      name: 'Bench',
      target: `http://127.0.0.1:${(hook.address() as AddressInfo).port}/`,
      tellings: [{ priorities: ['urgent'], days: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 0, wait: 0 }],
    },
  })
  await rest(3000)
  const began = performance.now()
  const body = JSON.stringify(Object.fromEntries(Array.from({ length: each }, (_, m) => [`s${m}`, 60])))
  await Promise.all(boards.map(({ token }) => post(url, token, body)))
  let until = Number.NaN
  while (Number.isNaN(until)) {
    const { inAll } = await owner.call(routes.listAlarms)
    if (inAll >= before + storm) until = performance.now() - began
    else await rest(20)
  }
  const lists: number[] = []
  for (let n = 0; n < trials; n++) {
    const asked = performance.now()
    await owner.call(routes.listAlarms)
    lists.push(performance.now() - asked)
  }
  await rest(20_000)
  hook.close()
  return { until, list: median(lists), notices }
}

async function tryMonth(sparrow: Sparrow, siteId: number) {
  const { owner, url } = sparrow
  const { device, token } = await guarded(sparrow, siteId, 'cave-of-alarms', ['damp'])
  const now = Math.floor(Date.now() / 1000)
  const lines = Array.from({ length: month / every }, (_, n) => {
    const value = 45 + 8 * Math.sin(n / 200) + (((n * 7919) % 13) - 6) / 10
    return `${now - month + n * every},${value.toFixed(2)}`
  })
  const piece = 8000
  for (let from = 0; from < lines.length; from += piece)
    await post(url, token, ['t,damp', ...lines.slice(from, from + piece)].join('\n'), 'text/csv')
  const took: number[] = []
  let count = 0
  for (let n = 0; n < trials; n++) {
    const began = performance.now()
    const told = await owner.call(routes.tryAlarm, {
      params: { signalId: device.signals[0]?.id ?? 0 },
      body: {
        occasion: tooHigh.occasion,
        unless: null,
        limits: { ...beyond(50 + n / 10, 1), onDelay: 60 },
        from: (now - month) * 1000,
        to: now * 1000,
      },
    })
    took.push(performance.now() - began)
    count = told.count
  }
  return { ms: median(took), count }
}
