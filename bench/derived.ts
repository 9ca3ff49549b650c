import { setTimeout as rest } from 'node:timers/promises'
import { routes } from '@jaunty-sparrow/contract'
import { median } from './median.ts'
import { startSparrow } from './server.ts'
import { SteadyLoad, shares, windowMs } from './steadyLoad.ts'

const devices = 100
/** Of each device, measured and derived. */
const signals = 10
/** Messages of each device a second; so 2,000 readings. */
const rate = 2

/** What a thousand derived signals take of the machine at two thousand readings a second. */
export async function derived(databaseUrl: string): Promise<string[]> {
  const { owner, url, stop } = await startSparrow(databaseUrl)
  const fields = Array.from({ length: signals }, (_, n) => `s${n}`)
  const kit = await owner.call(routes.createKit, {
    body: {
      name: 'Node',
      cadence: { by: 'always', seconds: 1 / rate },
      signals: fields.map((name) => ({ field: `/${name}`, name, kind: 'number' as const })),
    },
  })
  const site = await owner.call(routes.createSite, { body: { name: 'Derived', timeZone: 'UTC' } })
  const tokens: string[] = []
  for (let n = 0; n < devices; n++) {
    const address = `node-of-derived-${n}`
    const { secret } = await owner.call(routes.createDevice, {
      body: { name: address, address, siteId: site.id, kitId: kit.id },
    })
    tokens.push(`${address}.${secret}`)
  }
  const load = new SteadyLoad(url, tokens, fields, rate)
  load.start()
  await rest(windowMs / 2)
  const without = await shares()
  for (let n = 0; n < signals; n++) {
    const [one, other] = [kit.signals[n]?.id ?? 0, kit.signals[(n + 1) % signals]?.id ?? 0]
    const over = { by: 'mean', over: 60 } as const
    await owner.call(routes.addSignalDefinition, {
      params: { kitId: kit.id },
      body: {
        field: '',
        name: `Derived ${n}`,
        kind: 'number',
        origin: 'derived',
        derivation: {
          formula: 'a - b',
          inputs: [
            { name: 'a', of: { definition: one }, take: { by: 'last' }, ageLimit: 10 },
            { name: 'b', of: { definition: other }, take: n % 2 === 0 ? over : { by: 'last' }, ageLimit: 10 },
          ],
        },
      },
    })
  }
  await rest(windowMs)
  const withAll = await shares()
  const behind = await lag(owner, kit.id)
  await load.stop()
  await stop()
  const extra = median(withAll) - median(without)
  return [
    `| ${devices * signals} derived signals, half of them over a mean of 60 s, at ${devices * signals * rate} readings/s: what they take of the machine beside ingest | ${(extra * 100).toFixed(0)} % (${(median(without) * 100).toFixed(0)} % busy without, ${(median(withAll) * 100).toFixed(0)} % with them) | goal ≤ 20 % |`,
    `| the same: a derived value is known after its reading | ${(behind / 1000).toFixed(1)} s | |`,
  ]
}

/** How old the newest derived values are, ms, at the median device. */
async function lag(owner: { call: (route: typeof routes.listDevices) => Promise<unknown> }, kitId: number) {
  const all = (await owner.call(routes.listDevices)) as readonly {
    readonly kit: { readonly id: number }
    readonly signals: readonly { readonly origin: string; readonly latest: { readonly at: number } | null }[]
  }[]
  const now = Date.now()
  return median(
    all
      .filter(({ kit }) => kit.id === kitId)
      .flatMap(({ signals: of }) =>
        of.flatMap(({ origin, latest }) => (origin === 'derived' && latest ? [now - latest.at] : [])),
      ),
  )
}
