import { once } from 'node:events'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Page } from '@playwright/test'
import {
  type Application,
  createDevice,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  settleIn,
  test,
} from './application.ts'

/** A device that says something, and its owner at its page. */
async function deviceThatSpeaks(page: Page, application: Application): Promise<string> {
  await settleIn(page, application)
  const token = await createDevice(page, 'Vat')
  await application.send(token, { temperature: 20, level: 3 })
  await page.getByRole('button', { name: 'Accept Temperature' }).click()
  await page.getByRole('button', { name: 'Accept Level' }).click()
  await page.goto(`${application.origin}/devices/vat`)
  return token
}

test('a page is shown to anybody by a link, live, until it is withdrawn', async ({
  page,
  application,
  browser,
}) => {
  const token = await deviceThatSpeaks(page, application)
  await page.getByRole('button', { name: 'Share', exact: true }).click()
  await page.getByLabel('Title').fill('Our milk')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make the link' }).click()
  const link = (await page.getByTestId('link').textContent()) ?? ''

  const elsewhere = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const stranger = await elsewhere.newPage()
  await stranger.goto(link)
  await expect(stranger.getByRole('heading', { name: 'Our milk' })).toBeVisible()
  await expect(stranger.getByTestId('live-mark')).toHaveText('Live')
  await application.send(token, { temperature: 21.5 })
  await expect(stranger.getByRole('region', { name: 'Temperature' })).toContainText('21.5')
  await expectAccessible(stranger)
  await expectNoSidewaysScroll(stranger)
  expect(await elsewhere.cookies()).toEqual([])
  await expect(page.getByText('1 looking on now')).toBeVisible()

  await page.getByRole('button', { name: 'Done' }).click()
  await page.getByRole('button', { name: 'Withdraw Our milk' }).click()
  await expect(stranger.getByRole('heading', { name: 'Nothing is shown here any more' })).toBeVisible()
  await stranger.reload()
  await expect(stranger.getByText(/withdrawn, or its time is over/)).toBeVisible()
  await elsewhere.close()
})

test('a chart stands in a page of one’s own, and in no other', { tag: '@desk' }, async ({
  page,
  application,
  browser,
}) => {
  const token = await deviceThatSpeaks(page, application)
  let snippet = ''
  const own = createServer((_, response) => response.setHeader('Content-Type', 'text/html').end(snippet))
  const other = createServer((_, response) => response.setHeader('Content-Type', 'text/html').end(snippet))
  for (const server of [own, other]) await once(server.listen(0, '127.0.0.1'), 'listening')
  const originOf = (server: typeof own) => `http://127.0.0.1:${(server.address() as AddressInfo).port}`

  await page.getByRole('button', { name: 'Share', exact: true }).click()
  await page.getByLabel('What is shown').selectOption({ label: 'Temperature alone, to embed' })
  await page.getByLabel('Pages that may embed it').fill(originOf(own))
  await page.getByRole('button', { name: 'Make the link' }).click()
  snippet = `<!doctype html><h1>Our shop</h1>${await page.getByTestId('snippet').textContent()}`

  const elsewhere = await browser.newContext({ colorScheme: 'dark' })
  const shop = await elsewhere.newPage()
  await shop.goto(originOf(own))
  const frame = shop.frameLocator('iframe')
  await expect(frame.getByRole('region', { name: 'Temperature' })).toContainText('20')
  await application.send(token, { temperature: 22 })
  await expect(frame.getByRole('region', { name: 'Temperature' })).toContainText('22')
  await frame.locator('[data-chart] svg').hover()
  await expect(frame.getByTestId('hover')).toContainText(/2[02].*\d\d:\d\d/)
  const background = await frame.locator('html').evaluate((root) => getComputedStyle(root).backgroundColor)
  expect(background).toMatch(/oklch\(0\.2/)

  const refused = await elsewhere.newPage()
  await refused.goto(originOf(other))
  await expect(refused.frameLocator('iframe').getByRole('region', { name: 'Temperature' })).toHaveCount(0)
  await elsewhere.close()
  for (const server of [own, other]) server.close()
})

test('the application opens without a network, and says that it is not live', { tag: '@desk' }, async ({
  page,
  application,
  context,
}) => {
  await settleIn(page, application)
  const manifest = await page.evaluate(async () => (await fetch('/manifest.webmanifest')).json())
  expect(manifest).toMatchObject({ display: 'standalone', start_url: '/' })
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready
  })
  // From now on what the page is made of is kept.
  await page.reload()
  await expect(page.getByRole('heading', { name: 'Workshop' })).toBeVisible()
  // What is no page does not take the place of the page that is kept.
  await page.goto(`${application.origin}/healthz`)
  await expect(page.getByText('alive')).toBeVisible()
  await context.setOffline(true)
  await page.goto(application.origin)
  await expect(page.getByRole('heading', { name: 'Nobody answers' })).toBeVisible()
  // It goes on by itself.
  await context.setOffline(false)
  await expect(page.getByRole('heading', { name: 'Workshop' })).toBeVisible()
})
