import { fileURLToPath } from 'node:url'
import { expect, type Page, test, type WebSocketRoute } from '@playwright/test'

const folder = fileURLToPath(new URL('../docs/screenshots/', import.meta.url))
const take = (page: Page, name: string) => page.screenshot({ path: `${folder}${name}.png` })

/** Waits until the charts are drawn. */
const drawn = (page: Page) => expect(page.locator('.recharts-line-curve').first()).toBeVisible()

test('the pictures of the main views', async ({ page }) => {
  test.setTimeout(120_000)
  const signInUrl = process.env.SIGN_IN_URL ?? ''
  const { origin } = new URL(signInUrl)
  await page.goto(signInUrl)
  await expect(page.getByRole('article', { name: 'Milk vat' }).locator('svg path').first()).toBeVisible()
  await take(page, 'overview')

  await page.goto(`${origin}/devices/milk-vat`)
  await drawn(page)
  await take(page, 'device')
  await page.emulateMedia({ colorScheme: 'dark' })
  await take(page, 'device-dark')
  await page.emulateMedia({ colorScheme: 'light' })

  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`${origin}/devices/cave-1`)
  await drawn(page)
  await take(page, 'phone')
  await page.setViewportSize({ width: 1280, height: 800 })

  await page.goto(`${origin}/devices/new`)
  await page.getByLabel('Name').fill('Brine store')
  await page.getByRole('button', { name: 'Create the device' }).click()
  const secret = await page.getByTestId('secret').textContent()
  await take(page, 'first-message')
  await page.request.post(`${origin}/in`, {
    headers: { Authorization: `Bearer brine-store.${secret}` },
    data: Array.from({ length: 30 }, (_, n) => ({
      temperature: 11.8 + Math.sin(n / 5) / 4,
      level: 74.2 - n / 40,
      pump: n % 9 < 3,
      t: Date.now() - (29 - n) * 60_000,
    })),
  })
  await page.getByRole('button', { name: 'I have kept it' }).click()
  await page.getByRole('button', { name: 'Accept Temperature' }).click()
  await drawn(page)
  await take(page, 'suggested')

  await page.request.post(`${origin}/in`, { headers: { Authorization: 'Bearer cave-1.mistyped' }, data: {} })
  await page.request.post(`${origin}/in`, {
    headers: { Authorization: `Bearer brine-store.${secret}` },
    data: { temperature: 'warm', level: 74, pump: false },
  })
  await page.goto(`${origin}/arrivals`)
  await page.getByRole('button', { name: /brine-store.*partly/ }).click()
  await expect(page.getByText('How it is understood now')).toBeVisible()
  await take(page, 'arrivals')

  let cut = false
  const lines: WebSocketRoute[] = []
  await page.routeWebSocket('**/live', (line) => {
    if (cut) return line.close()
    line.connectToServer()
    lines.push(line)
  })
  await page.goto(`${origin}/devices/cave-2`)
  await drawn(page)
  await expect(page.getByTestId('live-mark')).toHaveText('Live')
  cut = true
  for (const line of lines) await line.close()
  await expect(page.getByText(/Not live since/)).toBeVisible()
  await take(page, 'not-live')
})
