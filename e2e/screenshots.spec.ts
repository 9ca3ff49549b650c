import { writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect, type Page, test } from '@playwright/test'

const folder = fileURLToPath(new URL('../docs/screenshots/', import.meta.url))
const take = (page: Page, name: string) => page.screenshot({ path: `${folder}${name}.png` })

/** Waits until the charts are drawn. */
const drawn = (page: Page) => expect(page.getByTestId('trace').first()).toBeVisible()

/** Switches and sets some things, so that there is something to be seen of it. */
async function act(page: Page, origin: string): Promise<void> {
  await page.goto(`${origin}/devices/brine-store`)
  await page
    .getByRole('group', { name: 'Set Brine pump' })
    .getByRole('button', { name: 'on', exact: true })
    .click()
  await expect(page.getByText(/was sent|is confirmed/).first()).toBeVisible()
  await page.goto(`${origin}/devices/shop-lamp`)
  const red = page.getByRole('group', { name: 'Set Red' })
  await red.getByRole('spinbutton').fill('60')
  await red.getByRole('button', { name: /^Set to/ }).click()
  await expect(page.getByText(/was sent|is confirmed/).first()).toBeVisible()
  await page.goto(`${origin}/act`)
  await expect(page.getByRole('listitem').filter({ hasText: 'Red: 60 %' })).toBeVisible()
  await take(page, 'act')
  await page.getByRole('link', { name: 'Humidity low', exact: true }).first().click()
  await expect(page.locator('[data-acting]').first()).toBeAttached()
  await take(page, 'rule')
}

/** Alarms that stand, one of them with its trial, and what was sent of them. */
async function guard(page: Page, origin: string): Promise<void> {
  await page.goto(`${origin}/guard`)
  await expect(page.locator('[data-state=unacknowledged]').first()).toBeVisible()
  await take(page, 'alarms')
  await page.goto(`${origin}/devices/cave-1`)
  const humidity = page.getByRole('region', { name: 'Humidity', exact: true })
  await humidity.getByRole('link', { name: 'alarm: too low' }).click()
  await expect(page.locator('[data-trial]')).toContainText('in all')
  await expect(page.locator('[data-hour]').first()).toBeAttached()
  await take(page, 'alarm')
  await page.goto(`${origin}/guard/sent`)
  await expect(page.locator('[data-notice=sent]').first()).toBeVisible()
  await take(page, 'notices')
}

/** A dashboard on a desk, while it is changed, on a phone, a wall and on paper; and all instruments. */
async function showDashboard(page: Page, origin: string): Promise<void> {
  await page.goto(origin)
  await page.getByRole('link', { name: 'Caves', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Caves', exact: true })).toBeVisible()
  const ready = async () => {
    const chapter = page.getByRole('article', { name: 'Cave 1, soft rinds' })
    await expect(chapter.locator('[data-span]').first()).toBeVisible()
  }
  const address = page.url()
  await ready()
  await expect(page.locator('[data-trace]').first()).toBeVisible()
  await take(page, 'caves')
  await page.goto(`${address}?edit`)
  await ready()
  await expect(page.getByRole('button', { name: 'Set Humidity', exact: true }).first()).toBeVisible()
  await take(page, 'editing')
  await page.goto(address.replace('/dashboards/', '/wall/'))
  await ready()
  await take(page, 'wall')
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(address)
  await ready()
  await take(page, 'phone')
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.goto(address)
  await page.getByRole('button', { name: 'More', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Share by a link' }).click()
  await page.getByRole('button', { name: 'Make the link' }).click()
  const picture = (await page.getByTestId('address of the picture').textContent()) ?? ''
  const paper = await page.request.get(picture)
  writeFileSync(`${folder}paper.png`, await paper.body())
  await page.goto(`${origin}/instruments`)
  await expect(page.getByRole('figure', { name: 'Scale, beyond limit' })).toBeVisible()
  await take(page, 'instruments')
}

test('the pictures of the main views', async ({ page }) => {
  test.setTimeout(500_000)
  const signInUrl = process.env.SIGN_IN_URL ?? ''
  const { origin } = new URL(signInUrl)
  await page.goto(signInUrl)
  await expect(page.getByRole('article', { name: 'Milk vat' }).locator('svg path').first()).toBeVisible()
  // The pages of thirty days are made while nobody waits for them; the strip of a day that is over is told by them.
  await expect(async () => {
    await page.reload()
    await expect(page.locator('[data-strokes]')).toBeVisible()
    expect(Number(await page.locator('[data-strokes]').getAttribute('data-strokes'))).toBeGreaterThan(250)
  }).toPass({ timeout: 200_000, intervals: [5000] })
  await expect(page.getByRole('article', { name: 'Milk vat' }).locator('svg path').first()).toBeVisible()
  await take(page, 'overview')

  await page.goto(`${origin}/devices/milk-vat`)
  await drawn(page)
  await take(page, 'device')

  // Nothing had power on the seventeenth night before today.
  const cut = Math.floor(Date.now() / 86_400_000 - 17) * 86_400_000 + 2.1 * 3_600_000
  const around = `from=${cut - 2 * 3_600_000}&to=${cut + 6 * 3_600_000}`
  await expect(async () => {
    await page.goto(`${origin}/devices/cave-1?${around}`)
    await drawn(page)
    expect(Number(await page.locator('[data-strokes]').getAttribute('data-strokes'))).toBeGreaterThan(200)
  }).toPass({ timeout: 200_000 })
  await take(page, 'past')

  await showDashboard(page, origin)

  await page.goto(`${origin}/devices/new`)
  await page.getByLabel('Name').fill('Whey tank')
  await page.getByRole('button', { name: 'Create the device' }).click()
  const secret = await page.getByTestId('secret').textContent()
  await page.request.post(`${origin}/in`, {
    headers: { Authorization: `Bearer whey-tank.${secret}` },
    data: Array.from({ length: 30 }, (_, n) => ({
      temperature: 11.8 + Math.sin(n / 5) / 4,
      bottom: 11.1 + Math.sin(n / 6) / 5,
      level: 74.2 - n / 40,
      pump: n % 9 < 3,
      t: Date.now() - (29 - n) * 60_000,
    })),
  })
  await page.getByRole('button', { name: 'I have kept it' }).click()
  await page.getByRole('button', { name: 'Accept Temperature' }).click()
  await drawn(page)

  await page.request.post(`${origin}/in`, { headers: { Authorization: 'Bearer cave-1.mistyped' }, data: {} })
  await page.request.post(`${origin}/in`, {
    headers: { Authorization: `Bearer whey-tank.${secret}` },
    data: { temperature: 'warm', bottom: 11.1, level: 74, pump: false },
  })
  await page.goto(`${origin}/arrivals`)
  await page.getByRole('button', { name: /whey-tank.*partly/ }).click()
  await expect(page.getByText('How it is understood now')).toBeVisible()
  await take(page, 'arrivals')

  await page.goto(`${origin}/devices/whey-tank`)
  await drawn(page)
  await page.getByRole('button', { name: 'Change Temperature' }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^bottom/ })
    .click()
  await page.getByRole('button', { name: 'Save' }).click()
  await page.getByRole('button', { name: 'Read again' }).click()
  await expect(page.getByText(/This would change/)).toBeVisible()
  await page.getByRole('button', { name: 'Close' }).first().click()

  await page.goto(`${origin}/devices/brine-store`)
  await drawn(page)
  await page.getByRole('button', { name: 'Change Brine temperature' }).click()
  const course = page.getByRole('img', { name: 'The course of the formula' })
  await course.scrollIntoViewIfNeeded()
  await take(page, 'conversion')
  await page.getByRole('button', { name: 'Close' }).first().click()
  await page
    .getByRole('region', { name: 'Brine temperature', exact: true })
    .getByTitle('Where does this come from?')
    .click()
  await expect(page.getByText(/^x = /)).toBeVisible()
  await take(page, 'explain')
  await page.getByRole('button', { name: 'Close' }).first().click()

  await page.goto(`${origin}/devices/cave-1`)
  await drawn(page)
  await page.getByRole('button', { name: 'More', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Derive a signal' }).click()
  await page.getByLabel('What do you want to know?').selectOption({ label: 'How fast it changes' })
  await expect(page.getByText(/^change = /)).toBeVisible()
  await take(page, 'derive')
  await page.getByRole('button', { name: 'Close' }).first().click()

  await page.goto(`${origin}/bench/kits`)
  await page.getByRole('link', { name: 'Cave node' }).click()
  await expect(page.getByLabel('Name of Temperature')).toBeVisible()
  await take(page, 'kit')

  await act(page, origin)
  await guard(page, origin)
})
