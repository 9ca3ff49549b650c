import { fork } from 'node:child_process'
import { once } from 'node:events'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { test as base, expect } from './application.ts'

/** The stand-ins at work on an application that nobody has visited yet, and the link that signs in. */
const test = base.extend<{ signInUrl: string }>({
  signInUrl: async ({ application }, use) => {
    const home = await mkdtemp(join(tmpdir(), 'sparrow-demo-'))
    const standIns = fork(fileURLToPath(new URL('../standins/src/main.ts', import.meta.url)), [], {
      execArgv: ['--import', 'tsx'],
      env: { ...process.env, NODE_OPTIONS: '', SPARROW_URL: application.origin, SPARROW_HOME: home },
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
test.describe.configure({ timeout: 300_000 })

test('the creamery of the demo speaks through every door', { tag: '@desk' }, async ({ page, signInUrl }) => {
  await page.goto(signInUrl)
  for (const name of ['Milk vat', 'pH meter', 'Cave 1, soft rinds', 'Chiller', 'Weather mast'])
    await expect(page.getByRole('article', { name }).locator('svg path').first()).toBeVisible()

  await page.getByRole('link', { name: 'Arrivals' }).click()
  await expect(page.getByRole('button', { name: /milk-vat stored 5 HTTP/ }).first()).toBeVisible()
  await expect(page.getByRole('button', { name: /ph-meter stored 2 serial/ }).first()).toBeVisible()
  // A board behind the gateway: named by its topic, sent with a key that is not its own.
  await expect(page.getByRole('button', { name: /chiller stored 3 plant\/chiller/ }).first()).toBeVisible()
  // The caves speak twice a minute.
  await expect(page.getByRole('button', { name: /cave-1 stored 4 MQTT/ }).first()).toBeVisible({
    timeout: 90_000,
  })
  await expect(page.getByRole('region', { name: 'Something new is talking' })).toContainText('shop/freezer')
})
