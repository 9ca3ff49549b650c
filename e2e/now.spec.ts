import type { Locator, Page } from '@playwright/test'
import {
  caveFromKit,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  settleIn,
  test,
} from './application.ts'

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
  const token = await caveFromKit(page, application, 'First cave')
  const send = (temperature: number) =>
    application.send(token, { temperature, humidity: 91, fogger: true, fan: false })
  await send(11)
  await page.goto(`${application.origin}/`)
  const chapter = page.getByRole('article', { name: 'First cave' })
  const temperature = chapter.getByRole('figure', { name: 'Temperature' })
  await expect(temperature.locator('[data-value]')).toHaveText('11')
  await expect(temperature.getByRole('img', { name: 'Temperature 11 °C' })).toBeVisible()
  await expect(temperature.locator('[data-limit]')).toHaveCount(2)
  await expect(chapter.getByRole('figure', { name: 'Fogger' }).locator('[data-value]')).toHaveText('on')
  // What can be acted on has its own colour; the bar of a phone lies over the chapter.
  await page.mouse.move(0, 0)
  await page.evaluate(() => {
    for (const offer of document.querySelectorAll<HTMLElement>('figcaption button, nav, [data-control]'))
      offer.style.visibility = 'hidden'
  })
  expect(await colouredPixels(page, chapter)).toBe(0)

  await send(15.2)
  await expect(temperature.getByText('▲ too high · limit 14')).toBeVisible()
  const own = await colouredPixels(page, temperature)
  expect(own).toBeGreaterThan(100)
  expect(await colouredPixels(page, chapter)).toBe(own)
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  await temperature.locator('[data-value]').click()
  await expect(page.getByRole('dialog', { name: 'Where Temperature comes from' })).toContainText('15.2')
})
