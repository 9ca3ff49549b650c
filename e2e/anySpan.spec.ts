import type { Locator, Page } from '@playwright/test'
import {
  type Application,
  createDevice,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  settleIn,
  test,
} from './application.ts'

const minute = 60_000
const day = 24 * 60 * minute

/** A device with two months of history, up close in its last hours. */
async function withHistory(page: Page, application: Application): Promise<Locator> {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  const now = Math.floor(Date.now() / minute) * minute
  const at = (n: number) => (n < 1400 ? now - 60 * day + n * 61 * minute : now - (1600 - n) * minute)
  const past = Array.from({ length: 1600 }, (_, n) => ({ level: 20 + Math.sin(n / 9), t: at(n) }))
  await application.send(token, past)
  await page.getByRole('button', { name: 'Accept Level' }).click()
  const chart = page.getByRole('group', { name: 'Chart of Level' })
  await expect(chart.getByTestId('trace')).toBeVisible()
  return chart
}

/** How much the address bar says is shown, ms. */
const shownIn = (url: URL): number =>
  Number(url.searchParams.get('to')) - Number(url.searchParams.get('from'))
const points = async (chart: Locator): Promise<number> =>
  ((await chart.getByTestId('trace').getAttribute('d')) ?? '').split(/[ML]/).length - 1

test('from all there is to a minute and back, by wheel, drag and keys', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  const chart = await withHistory(page, application)
  await page.getByRole('button', { name: 'All', exact: true }).click()
  await expect(page).toHaveURL((url) => Math.abs(shownIn(url) - 60 * day) < day)
  await expect.poll(() => points(chart)).toBeGreaterThan(1000)
  await expect(page.getByTestId('live-mark')).toHaveText('The past')

  // A drag over an eighth of it shows that eighth.
  const box = await chart.boundingBox()
  if (!box) throw new Error('the chart is not drawn')
  const y = box.y + 60
  await page.mouse.move(box.x + box.width * 0.5, y)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.6, y, { steps: 5 })
  await page.mouse.up()
  await expect(page).toHaveURL((url) => shownIn(url) > 5 * day && shownIn(url) < 8 * day)

  // The wheel zooms what has the focus, around where it points.
  await chart.focus()
  await page.mouse.move(box.x + box.width * 0.5, y)
  for (let turn = 0; turn < 20 && shownIn(new URL(page.url())) > minute; turn++) {
    const before = shownIn(new URL(page.url()))
    await page.mouse.wheel(0, -600)
    await expect(page).toHaveURL((url) => shownIn(url) < before)
  }
  expect(shownIn(new URL(page.url()))).toBeLessThanOrEqual(minute)
  await expectAccessible(page)

  // And all of it again by keys, until the present ends it.
  for (let press = 0; press < 30 && shownIn(new URL(page.url())) < 50 * day; press++) {
    const before = shownIn(new URL(page.url()))
    await page.keyboard.press('-')
    await expect(page).toHaveURL((url) => shownIn(url) > before)
  }
  const { searchParams } = new URL(page.url())
  await page.keyboard.press('ArrowLeft')
  await expect(page).toHaveURL((url) => Number(url.searchParams.get('to')) < Number(searchParams.get('to')))
  await page.getByRole('button', { name: 'Back', exact: true }).click()
  await expect(page).toHaveURL((url) => url.searchParams.get('to') === searchParams.get('to'))
  await chart.focus()
  await page.keyboard.press('End')
  await expect(page).toHaveURL((url) => url.searchParams.get('span') === 'hour')
  await expect(page.getByTestId('live-mark')).toHaveText('Live')
})

test('any span is asked for by the clock of the site', { tag: '@desk' }, async ({ page, application }) => {
  await withHistory(page, application)
  await page.getByRole('button', { name: 'From … to …' }).click()
  const form = page.getByRole('dialog')
  await form.getByLabel('From').fill('2026-07-01T06:00')
  await form.getByLabel('To').fill('2026-07-01T05:00')
  await form.getByRole('button', { name: 'Show it' }).click()
  await expect(form).toContainText('The end must come after the beginning.')
  await expectAccessible(page)
  await form.getByLabel('To').fill('2026-07-01T18:30')
  await form.getByRole('button', { name: 'Show it' }).click()
  // The workshop is where the browser is, in Dublin: an hour ahead in summer.
  await expect(page).toHaveURL(
    (url) =>
      Number(url.searchParams.get('from')) === Date.UTC(2026, 6, 1, 5) &&
      Number(url.searchParams.get('to')) === Date.UTC(2026, 6, 1, 17, 30),
  )
})

test('two fingers zoom, one moves along', async ({ page, application, hasTouch }) => {
  test.skip(!hasTouch, 'there is nothing to touch')
  const chart = await withHistory(page, application)
  await page.getByRole('button', { name: 'A month', exact: true }).click()
  await expect(page).toHaveURL((url) => url.searchParams.get('span') === 'month')
  await chart.scrollIntoViewIfNeeded()
  const box = await chart.boundingBox()
  if (!box) throw new Error('the chart is not drawn')
  const line = await page.context().newCDPSession(page)
  const y = box.y + 60
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...xs: number[]) =>
    line.send('Input.dispatchTouchEvent', {
      type,
      touchPoints: xs.map((x, id) => ({ x: box.x + x * box.width, y, id })),
    })
  await touch('touchStart', 0.5, 0.6)
  for (const apart of [0.15, 0.2, 0.3, 0.4]) await touch('touchMove', 0.5, 0.5 + apart)
  await touch('touchEnd')
  await expect(page).toHaveURL((url) => shownIn(url) > 5 * day && shownIn(url) < 12 * day)
  const before = new URL(page.url())
  await touch('touchStart', 0.4)
  for (const x of [0.5, 0.6, 0.7]) await touch('touchMove', x)
  await touch('touchEnd')
  await expect(page).toHaveURL(
    (url) => Number(url.searchParams.get('from')) < Number(before.searchParams.get('from')) - day,
  )
  expect(Math.abs(shownIn(new URL(page.url())) - shownIn(before))).toBeLessThan(10)
  await expectNoSidewaysScroll(page)
  await expectAccessible(page)
})

test('a file of old readings appears in the long view', { tag: '@desk' }, async ({ page, application }) => {
  const chart = await withHistory(page, application)
  const rows = Array.from({ length: 700 }, (_, n) => {
    const date = new Date(Date.UTC(2024, 0, 1) + n * day).toISOString()
    return `${date},${40 + (n % 7)}`
  })
  await page.getByRole('button', { name: 'Bring a file' }).click()
  const sheet = page.getByRole('dialog')
  await sheet.locator('input[type=file]').setInputFiles({
    name: 'old.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(['time,level', ...rows].join('\n')),
  })
  await sheet.getByRole('button', { name: 'Store the readings' }).click()
  await expect(sheet.getByRole('status')).toHaveText('The whole file is stored.')
  await sheet.getByRole('button', { name: 'Close' }).first().click()
  await page.getByRole('button', { name: 'All', exact: true }).click()
  await expect(page).toHaveURL((url) => Number(url.searchParams.get('from')) === Date.UTC(2024, 0, 1))
  await expect(page.getByRole('region', { name: 'Level', exact: true })).toContainText('to 46.0')
  expect(await points(chart)).toBeGreaterThan(1000)
})

test('the strip opens a moment, turns the day back, and goes live again', async ({ page, application }) => {
  await withHistory(page, application)
  const strip = page.getByRole('slider', { name: 'A day of Workshop' })
  await expect(strip.locator('[data-strokes]')).not.toHaveAttribute('data-strokes', '0')
  await strip.focus()
  for (let press = 0; press < 24; press++) await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Enter')
  const hoursAgo = (url: URL) => (Date.now() - Number(url.searchParams.get('to'))) / (60 * minute)
  await expect(page).toHaveURL((url) => hoursAgo(url) > 1.3 && hoursAgo(url) < 1.7)
  await expect(page.getByTestId('live-mark')).toHaveText('The past')

  const begins = async () => Number(await strip.getAttribute('aria-valuemin'))
  const began = await begins()
  await page.getByRole('button', { name: 'The day before' }).click()
  await expect(page.getByRole('button', { name: 'The day after' })).toBeVisible()
  // A click means what is drawn: the day before, once it has come.
  await expect.poll(begins).toBeLessThan(began - 12 * 60 * minute)
  const box = await strip.boundingBox()
  if (!box) throw new Error('the strip is not drawn')
  await page.mouse.click(box.x + box.width / 2, box.y + 15)
  await expect(page).toHaveURL((url) => hoursAgo(url) > 34 && hoursAgo(url) < 40)
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  await page.getByRole('button', { name: 'Live', exact: true }).click()
  await expect(page).toHaveURL((url) => !url.searchParams.has('from'))
  await expect(page.getByTestId('live-mark')).toHaveText('Live')
})
