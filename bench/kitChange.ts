import { routes } from '@jaunty-sparrow/contract'
import { median } from './median.ts'
import { startSparrow } from './server.ts'

const devices = 500
const rounds = 5

/** How long it takes until a change of a kit has reached five hundred devices. */
export async function kitChange(databaseUrl: string): Promise<string[]> {
  const { owner, ...sparrow } = await startSparrow(databaseUrl)
  const kit = await owner.call(routes.createKit, {
    body: {
      name: 'Node',
      cadence: null,
      signals: ['a', 'b', 'c'].map((name) => ({ field: `/${name}`, name, kind: 'number' as const })),
    },
  })
  const site = await owner.call(routes.createSite, { body: { name: 'Kits', timeZone: 'UTC' } })
  for (let n = 0; n < devices; n++)
    await owner.call(routes.createDevice, {
      body: { name: `Node ${n}`, address: `node-of-kit-${n}`, siteId: site.id, kitId: kit.id },
    })
  const took: number[] = []
  for (let round = 0; round < rounds; round++) {
    const begun = performance.now()
    await owner.call(routes.changeSignalDefinition, {
      params: { definitionId: kit.signals[0]?.id ?? 0 },
      body: { conversion: `x * ${round + 2}` },
    })
    took.push(performance.now() - begun)
  }
  await sparrow.stop()
  return [
    `| a kit of ${devices} devices changed, until it holds for all | ${(median(took) / 1000).toFixed(2)} s | goal < 1 s |`,
  ]
}
