import { setTimeout as rest } from 'node:timers/promises'
import { type BodyOf, routes } from '@jaunty-sparrow/contract'
import { median } from './median.ts'
import { startSparrow } from './server.ts'
import { SteadyLoad, shares, windowMs } from './steadyLoad.ts'

const devices = 100
/** Of each device, measured, and as many switches with a rule each. */
const signals = 10
/** Messages of each device a second; so 2,000 readings. */
const rate = 2
const month = 30 * 86_400
/** How often something was measured in the month that is tried, s. */
const every = 30
const trials = 5

type Rule = BodyOf<typeof routes.createRule>['rule']

const below = (signal: number, bound: number, end: number): Rule => ({
  inputs: [{ name: 'a', signal }],
  when: { formula: `a < ${bound}`, atLeast: 0 },
  until: { formula: `a > ${end}`, atLeast: 0 },
  clock: null,
  value: 1,
  otherwise: 0,
  leastOn: 0,
  leastOff: 0,
  mostAnHour: null,
  whenUnknown: 'rest',
  safeAfterAway: false,
})

/** What a thousand rules take of the machine at two thousand readings a second, and how long a trial over a month takes. */
export async function rules(databaseUrl: string): Promise<string[]> {
  const { owner, url, stop } = await startSparrow(databaseUrl)
  const fields = Array.from({ length: signals }, (_, n) => `s${n}`)
  const kit = await owner.call(routes.createKit, {
    body: {
      name: 'Node',
      cadence: { by: 'always', seconds: 1 / rate },
      signals: [
        ...fields.map((name) => ({ field: `/${name}`, name, kind: 'number' as const })),
        ...fields.map((name) => ({
          field: `/relay/${name}`,
          name: `Relay ${name}`,
          kind: 'switch' as const,
          origin: 'controlled' as const,
        })),
      ],
    },
  })
  const site = await owner.call(routes.createSite, { body: { name: 'Rules', timeZone: 'UTC' } })
  const tokens: string[] = []
  const pairs: { readonly input: number; readonly target: number }[] = []
  for (let n = 0; n < devices; n++) {
    const address = `node-of-rules-${n}`
    const { secret, device } = await owner.call(routes.createDevice, {
      body: { name: address, address, siteId: site.id, kitId: kit.id },
    })
    tokens.push(`${address}.${secret}`)
    const idOf = (name: string) => device.signals.find((signal) => signal.name === name)?.id ?? 0
    for (const name of fields) pairs.push({ input: idOf(name), target: idOf(`Relay ${name}`) })
  }
  // Values are anywhere from 0 to 100: each rule begins every eight minutes or so.
  const made: number[] = []
  for (const { input, target } of pairs) {
    const { id } = await owner.call(routes.createRule, {
      params: { signalId: target },
      body: { name: 'Low', rule: below(input, 0.1, 90) },
    })
    made.push(id)
  }
  // What is off says so, and need not be asked to be.
  const off = JSON.stringify({ relay: Object.fromEntries(fields.map((name) => [name, false])) })
  for (const token of tokens)
    await fetch(`${url}/in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
      body: off,
    })
  const load = new SteadyLoad(url, tokens, fields, rate)
  load.start()
  await rest(windowMs / 2)
  const without = await shares()
  for (const ruleId of made) await owner.call(routes.switchRule, { params: { ruleId }, body: { mode: 'on' } })
  await rest(windowMs)
  const withAll = await shares()
  await load.stop()
  const extra = median(withAll) - median(without)

  const trial = await tryMonth(owner, url, site.id)
  await stop()
  return [
    `| ${pairs.length} rules at ${devices * signals * rate} readings/s: what they take of the machine beside ingest | ${(extra * 100).toFixed(0)} % (${(median(without) * 100).toFixed(0)} % busy without, ${(median(withAll) * 100).toFixed(0)} % with them) | goal ≤ 20 % |`,
    `| a rule tried on ${month / 86_400} days at ${every} s (${(month / every).toLocaleString('en')} readings, begins ${trial.begins} times) | ${trial.ms.toFixed(0)} ms | goal ≤ 1,000 ms |`,
  ]
}

type Owner = Awaited<ReturnType<typeof startSparrow>>['owner']

async function tryMonth(owner: Owner, url: string, siteId: number) {
  const kit = await owner.call(routes.createKit, {
    body: {
      name: 'Cave',
      cadence: { by: 'always', seconds: every },
      signals: [
        { field: '/damp', name: 'Humidity', kind: 'number' },
        { field: '/fogger', name: 'Fogger', kind: 'switch', origin: 'controlled' },
      ],
    },
  })
  const { device, secret } = await owner.call(routes.createDevice, {
    body: { name: 'cave', address: 'cave-of-rules', siteId, kitId: kit.id },
  })
  const idOf = (name: string) => device.signals.find((signal) => signal.name === name)?.id ?? 0
  const now = Math.floor(Date.now() / 1000)
  const lines = Array.from({ length: month / every }, (_, n) => {
    const value = 85 + 8 * Math.sin(n / 200) + (((n * 7919) % 13) - 6) / 10
    return `${now - month + n * every},${value.toFixed(2)}`
  })
  const each = 8000
  for (let from = 0; from < lines.length; from += each) {
    const answer = await fetch(`${url}/in`, {
      method: 'POST',
      headers: { 'Content-Type': 'text/csv', Authorization: `Bearer cave-of-rules.${secret}` },
      body: ['t,damp', ...lines.slice(from, from + each)].join('\n'),
    })
    if (answer.status !== 204)
      throw new Error(`the month was answered ${answer.status}: ${await answer.text()}`)
  }
  const took: number[] = []
  let begins = 0
  for (let n = 0; n < trials; n++) {
    const began = performance.now()
    const told = await owner.call(routes.tryRule, {
      params: { signalId: idOf('Fogger') },
      body: { rule: below(idOf('Humidity'), 80 + n / 10, 88), from: (now - month) * 1000, to: now * 1000 },
    })
    took.push(performance.now() - began)
    begins = told.begins
  }
  return { ms: median(took), begins }
}
