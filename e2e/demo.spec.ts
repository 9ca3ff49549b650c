import { fork } from 'node:child_process'
import { once } from 'node:events'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { test as base, expect, openArrivals } from './application.ts'

const hour = 3_600_000

/** The stand-ins at work on an application that nobody has visited yet, and the link that signs in. */
const test = base.extend<{ signInUrl: string }>({
  signInUrl: async ({ application }, use) => {
    const home = await mkdtemp(join(tmpdir(), 'sparrow-demo-'))
    const standIns = fork(fileURLToPath(new URL('../standins/src/main.ts', import.meta.url)), [], {
      execArgv: ['--import', 'tsx'],
      env: {
        ...process.env,
        NODE_OPTIONS: '',
        SPARROW_URL: application.origin,
        SPARROW_HOME: home,
        FIRST_RUN_TOKEN: new URL(application.firstRunUrl).hash.slice(1),
      },
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    })
    const [{ signInUrl }] = (await once(standIns, 'message')) as [{ signInUrl: string }]
    await use(signInUrl)
    const ended = once(standIns, 'exit')
    standIns.kill()
    await ended
    await rm(home, { recursive: true })
  },
})

// Thirty days are told first.
test.describe.configure({ timeout: 420_000 })

test('the creamery of the demo speaks through every door', { tag: '@desk' }, async ({ page, signInUrl }) => {
  await page.goto(signInUrl)
  for (const name of ['Milk vat', 'pH meter', 'Cave 1, soft rinds', 'Chiller', 'Weather mast'])
    await expect(page.getByRole('article', { name }).locator('svg path').first()).toBeVisible()

  await openArrivals(page)
  await expect(page.getByRole('button', { name: /milk-vat stored 5 HTTP/ }).first()).toBeVisible()
  await expect(page.getByRole('button', { name: /ph-meter stored 2 serial/ }).first()).toBeVisible()
  // A board behind the gateway: named by its topic, sent with a key that is not its own.
  await expect(page.getByRole('button', { name: /chiller stored 4 plant\/chiller/ }).first()).toBeVisible()
  // The caves speak twice a minute.
  await expect(page.getByRole('button', { name: /cave-1 stored 6 MQTT/ }).first()).toBeVisible({
    timeout: 90_000,
  })
  await expect(page.getByRole('region', { name: 'Something new is talking' })).toContainText('shop/freezer')

  // In the seventeenth night before today nothing had power for hours but what has a battery.
  const cut = Math.floor(Date.now() / 86_400_000 - 17) * 86_400_000 + 2.1 * hour
  const strip = page.getByRole('slider', { name: 'A day of Brackenfold Creamery' })
  // The pages of thirty days are made while nobody waits for them.
  await expect(async () => {
    await page.goto(`${new URL(signInUrl).origin}/devices/cave-1?from=${cut - hour}&to=${cut + 4.5 * hour}`)
    const [from, to] = await Promise.all(
      ['aria-valuemin', 'aria-valuemax'].map(async (name) => Number(await strip.getAttribute(name))),
    )
    const width = (await strip.boundingBox())?.width ?? 0
    const drawn = (await strip.locator('[data-strokes]').getAttribute('d')) ?? ''
    const strokes = [...drawn.matchAll(/M([\d.]+) [\d.]+v-([\d.]+)/g)].map(([, x, height]) => ({
      at: (from ?? 0) + (Number(x) / width) * ((to ?? 0) - (from ?? 0)),
      height: Number(height),
    }))
    const without = strokes.filter(({ at }) => at > cut + 0.2 * hour && at < cut + 3.3 * hour)
    const others = strokes.filter(({ at }) => at < cut - 0.2 * hour || at > cut + 3.7 * hour)
    expect(others.length).toBeGreaterThan(200)
    expect(Math.max(...without.map(({ height }) => height), 0)).toBeLessThan(4)
    expect(Math.min(...others.map(({ height }) => height))).toBeGreaterThan(8)
  }).toPass({ timeout: 200_000 })
})
