import type { Locator, Page } from '@playwright/test'
import { expect, expectAccessible, expectNoSidewaysScroll, settleIn, test } from './application.ts'

/** How many pixels of a part of the page have a colour, and are neither paper nor ink. */
async function colouredPixels(page: Page, part: Locator): Promise<number> {
  const picture = (await part.screenshot()).toString('base64')
  return page.evaluate(async (base64) => {
    const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0))
    const bitmap = await createImageBitmap(new Blob([bytes], { type: 'image/png' }))
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height)
    const context = canvas.getContext('2d')
    if (!context) throw new Error('there is no canvas')
    context.drawImage(bitmap, 0, 0)
    const { data } = context.getImageData(0, 0, bitmap.width, bitmap.height)
    let coloured = 0
    for (let at = 0; at < data.length; at += 4) {
      const [red = 0, green = 0, blue = 0] = data.subarray(at, at + 3)
      if (Math.max(red, green, blue) - Math.min(red, green, blue) > 60) coloured++
    }
    return coloured
  }, picture)
}

test('a site is read as chapters of instruments, and only what is beyond its limit has a colour', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await page.goto(`${application.origin}/bench/kits`)
  await page.getByLabel('Begin from a kit that is ready').selectOption('Cave node')
  await page.getByLabel('Limits of Temperature').fill('low 8, high 14')
  await page.getByRole('button', { name: 'Save', exact: true }).first().click()
  await expect(page.getByText('Type into a cell')).toBeVisible()
  await page.getByRole('link', { name: 'New device of it' }).click()
  await expect(page.getByRole('heading', { name: 'A new device' })).toBeVisible()
  await page.getByLabel('Name').fill('First cave')
  await page.getByRole('button', { name: 'Create the device' }).click()
  const secret = await page.getByTestId('secret').textContent()
  await page.getByRole('button', { name: 'I have kept it' }).click()
  const send = (temperature: number) =>
    application.send(`first-cave.${secret}`, { temperature, humidity: 91, fogger: true, fan: false })
  await send(11)
  await page.goto(`${application.origin}/`)
  const chapter = page.getByRole('article', { name: 'First cave' })
  await expect(chapter.getByTestId('value-/temperature')).toHaveText('11')
  await expect(chapter.getByRole('img', { name: 'Scale from 5 to 17 °C' })).toBeVisible()
  await expect(chapter.getByRole('img', { name: 'When Fogger was on in the last hour' })).toBeVisible()
  await expect(chapter.getByTestId('value-/fogger')).toHaveText('on')
  expect(await colouredPixels(page, chapter)).toBe(0)

  await send(15.2)
  await expect(chapter.getByText('▲ too high · limit 14')).toBeVisible()
  const instrument = chapter.locator('div', { has: page.getByText('▲ too high') }).last()
  const own = await colouredPixels(page, instrument)
  expect(own).toBeGreaterThan(100)
  expect(await colouredPixels(page, chapter)).toBe(own)
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  await chapter.getByTestId('value-/temperature').click()
  await expect(page.getByRole('dialog', { name: 'Where Temperature comes from' })).toContainText('15.2')
})
