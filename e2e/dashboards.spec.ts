import type { Page } from '@playwright/test'
import {
  caveFromKit,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  makeDashboard,
  nameDevice,
  settleIn,
  test,
} from './application.ts'

const figures = (page: Page, chapter = 'First cave') =>
  page
    .getByRole('article', { name: chapter })
    .getByRole('figure')
    .evaluateAll((all) => all.map((figure) => figure.getAttribute('aria-label')))

const values = { temperature: 11, humidity: 91, co2: 700, ammonia: 2, fogger: true, fan: false }

test('a page is made of a kit, changed by keyboard, taken back, published and gone back from', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  const address = await makeDashboard(page, application, 'each Cave node', 'Caves')
  const before = await figures(page)
  expect(before.slice(0, 3)).toEqual(['Fogger', 'Fan', 'Temperature'])

  const grip = page.getByRole('button', { name: 'Move Temperature', exact: true })
  await grip.focus()
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByRole('status').getByText('Temperature: place 2 of')).toBeAttached()
  await expect(grip).toBeFocused()
  await page.keyboard.press('ArrowLeft')
  expect((await figures(page)).slice(0, 3)).toEqual(['Temperature', 'Fogger', 'Fan'])
  await page.keyboard.press('+')
  await expect(page.getByRole('status').getByText('Temperature is large now.')).toBeAttached()
  await page.keyboard.press('Delete')
  await expect(page.getByRole('figure', { name: 'Temperature', exact: true })).toHaveCount(0)
  await page.keyboard.press('Control+z')
  expect((await figures(page))[0]).toBe('Temperature')

  // It survives a reload, and is nobody else's until it is published.
  await page.reload()
  await expect(page.getByRole('figure', { name: 'Temperature', exact: true })).toBeVisible()
  expect((await figures(page)).slice(0, 3)).toEqual(['Temperature', 'Fogger', 'Fan'])
  await page.goto(address)
  await expect(page.getByRole('figure', { name: 'Temperature', exact: true })).toBeVisible()
  expect((await figures(page)).slice(0, 3)).toEqual(['Fogger', 'Fan', 'Temperature'])
  await page.getByRole('button', { name: 'Edit' }).click()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Edit' })).toBeVisible()
  expect((await figures(page)).slice(0, 3)).toEqual(['Temperature', 'Fogger', 'Fan'])
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  await page.getByRole('button', { name: 'Edit' }).click()
  await page.getByRole('button', { name: 'Versions' }).click()
  const versions = page.getByRole('dialog', { name: 'Versions of Caves' })
  await expect(versions.getByRole('listitem')).toHaveCount(2)
  await versions.getByRole('button', { name: 'Go back to it' }).last().click()
  await expect(versions).toBeHidden()
  expect((await figures(page)).slice(0, 3)).toEqual(['Fogger', 'Fan', 'Temperature'])
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Edit' })).toBeVisible()
  expect((await figures(page)).slice(0, 3)).toEqual(['Fogger', 'Fan', 'Temperature'])
})

test('an instrument is dragged to another place', { tag: '@desk' }, async ({ page, application }) => {
  await settleIn(page, application)
  await application.send(await caveFromKit(page, application, 'First cave'), values)
  await makeDashboard(page, application, 'each Cave node', 'Caves')
  await expect(page.getByRole('figure', { name: 'Fogger' })).toBeVisible()
  await page.getByRole('button', { name: 'Move Humidity', exact: true }).first().hover()
  await page.mouse.down()
  const target = await page.getByRole('figure', { name: 'Fogger' }).boundingBox()
  await page.mouse.move((target?.x ?? 0) + 60, (target?.y ?? 0) + 40, { steps: 12 })
  await page.mouse.up()
  await expect.poll(async () => (await figures(page)).slice(0, 3)).toEqual(['Humidity', 'Fogger', 'Fan'])
})

test('signals are picked out of a list that lives, and drawn as one likes', async ({ page, application }) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  await makeDashboard(page, application, 'an empty page', 'My page')
  await page.getByRole('button', { name: 'Add the first chapter' }).click()
  await page.getByLabel('Title').fill('What matters')
  await page.getByRole('button', { name: 'Add it' }).click()
  await page.getByRole('button', { name: 'Add signals' }).click()
  const pick = page.getByRole('dialog', { name: 'Add signals' })
  await expect(pick.getByText('CO₂')).toBeVisible()
  await pick.getByLabel('Find').fill('cave hum')
  await expect(pick.getByText('CO₂')).toBeHidden()
  await expect(pick.getByTestId('value-/humidity')).toHaveText('91')
  await application.send(token, { ...values, humidity: 93 })
  await expect(pick.getByTestId('value-/humidity')).toHaveText('93')
  await pick.getByRole('checkbox').first().check()
  await pick.getByLabel('Find').fill('temperature')
  await pick.getByRole('checkbox').first().check()
  await pick.getByRole('button', { name: 'Add together in one' }).click()
  // What lies under a sheet is told to nobody who cannot see it.
  const course = page.locator('figure[aria-label="Humidity, Temperature"]')
  await expect(course).toHaveAttribute('data-kind', 'course')

  await page.getByRole('button', { name: 'Set Humidity, Temperature' }).click()
  const sheet = page.getByRole('dialog')
  await sheet.getByLabel('Over').selectOption('an hour')
  await sheet.getByLabel('Drawn as').selectOption('Table')
  await expect(course).toHaveAttribute('data-kind', 'table')
  await sheet.getByLabel('Drawn as').selectOption('Course')
  // What was set of it before is there again.
  await expect(sheet.getByLabel('Over')).toHaveValue('hour')
  await sheet.getByLabel('Title', { exact: true }).fill('Air')
  await sheet.getByRole('button', { name: 'Done' }).click()
  await expect(page.getByRole('figure', { name: 'Air' })).toBeVisible()
})

test('an instrument shows its number in a unit of its own', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await application.send(await caveFromKit(page, application, 'First cave'), { ...values, temperature: 10 })
  await makeDashboard(page, application, 'First cave', 'One cave')
  const temperature = page.locator('figure[aria-label="Temperature"]')
  await page.getByRole('button', { name: 'Set Temperature', exact: true }).click()
  const sheet = page.getByRole('dialog')
  await sheet.getByLabel('Seen in').fill('°F')
  await sheet.getByRole('listbox').getByRole('option').first().click()
  await expect(temperature.locator('[data-value]').first()).toHaveText('50')
  await sheet.getByRole('button', { name: 'Done' }).click()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Edit' })).toBeVisible()
  await expect(temperature.locator('svg[role=img]')).toHaveAccessibleName(/50 °F/)
  // For a look only: by its menu, and in nobody else's page.
  await temperature.hover()
  await temperature.getByRole('button', { name: 'More of Temperature' }).click()
  await page.getByRole('menuitemradio', { name: 'In K' }).click()
  await expect(temperature.locator('svg[role=img]')).toHaveAccessibleName(/283/)
})

test('two who change one page lose nothing', { tag: '@desk' }, async ({ page, application, context }) => {
  await settleIn(page, application)
  await application.send(await caveFromKit(page, application, 'First cave'), values)
  const address = await makeDashboard(page, application, 'First cave', 'Together')
  const other = await context.newPage()
  await other.goto(`${address}?edit`)
  // Drafts are of a browser: the other one is another person's.
  await other.evaluate(() => localStorage.clear())
  const take = async (of: Page, title: string) => {
    await of.getByRole('button', { name: `Take ${title} away`, exact: true }).click()
    await expect(of.getByRole('figure', { name: title, exact: true })).toHaveCount(0)
  }
  await take(page, 'Fogger')
  await take(other, 'Fan')
  await other.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(other.getByRole('button', { name: 'Edit' })).toBeVisible()
  await expect(page.getByText('published this page meanwhile')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Publish', exact: true })).toBeDisabled()
  await expect(page.getByRole('figure', { name: 'Fan', exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Publish mine over it' }).click()
  await expect(page.getByRole('button', { name: 'Edit' })).toBeVisible()
  await expect(page.getByRole('figure', { name: 'Fan', exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Edit' }).click()
  await page.getByRole('button', { name: 'Versions' }).click()
  await expect(page.getByRole('dialog').getByRole('listitem')).toHaveCount(3)
})

test('a chapter that repeats grows by a device that comes, and by a part', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await application.send(await caveFromKit(page, application, 'First cave'), values)
  await page.goto(`${application.origin}/bench/kits`)
  await page.getByLabel('Begin from a kit that is ready').selectOption('Vat node')
  await expect(page.getByText('Type into a cell')).toBeVisible()
  await page.getByRole('link', { name: 'New device of it' }).click()
  const vat = await nameDevice(page, 'Vat')
  await application.send(vat, { probes: { top: 21, bottom: 20 } })
  const address = await makeDashboard(page, application, 'each Cave node', 'Caves')
  await page.goto(address)
  await expect(page.getByRole('article')).toHaveCount(1)
  const other = await page.context().newPage()
  await other.goto(`${application.origin}/bench/kits`)
  await other.getByRole('link', { name: 'Cave node' }).first().click()
  await other.getByRole('link', { name: 'New device of it' }).click()
  await nameDevice(other, 'Second cave')
  await expect(page.getByRole('article', { name: 'Second cave' })).toBeVisible()

  await page.getByRole('button', { name: 'Edit' }).click()
  await page.getByRole('button', { name: 'Add a chapter' }).click()
  await page.getByLabel('It stands').selectOption({ label: 'for each part of Vat' })
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByRole('article', { name: 'top' })).toBeVisible()
  await application.send(vat, { probes: { middle: 22 } })
  await expect(page.getByRole('article', { name: 'middle' })).toBeVisible()
})

test('the order on a phone follows that of the desk, and can be another one', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await page.setViewportSize({ width: 1600, height: 900 })
  await settleIn(page, application)
  await application.send(await caveFromKit(page, application, 'First cave'), values)
  const address = await makeDashboard(page, application, 'First cave', 'One cave')
  await page.getByRole('button', { name: 'Show the phone' }).click()
  const phone = page.getByRole('region', { name: 'On a phone' })
  await expect(phone.getByRole('figure').first()).toHaveAccessibleName('Fogger')
  await phone.getByRole('button', { name: 'Fogger: later on the phone' }).click()
  await expect(phone.getByRole('figure').first()).toHaveAccessibleName('Fan')
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Edit' })).toBeVisible()
  await expect(page.getByRole('figure').first()).toHaveAccessibleName('Fogger')
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(address)
  await expect(page.getByRole('figure').first()).toHaveAccessibleName('Fan')
  await expectNoSidewaysScroll(page)
})

test('the page goes back in time with the limits of then, plays on, and takes a note', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  const ago = (minutes: number) => Date.now() - minutes * 60_000
  await application.send(token, { ...values, temperature: 12.5, t: ago(30) })
  await application.send(token, { ...values, temperature: 9.5, t: ago(1) })
  const address = await makeDashboard(page, application, 'First cave', 'One cave')
  await page.goto(`${address}?at=${ago(20)}`)
  const temperature = page.getByRole('figure', { name: 'Temperature', exact: true })
  await expect(temperature.locator('[data-value]')).toHaveText('12.5')
  await expect(page.getByTestId('live-mark')).toHaveText('The past')
  await expect(page.getByRole('button', { name: 'Edit' })).toHaveCount(0)
  await application.send(token, { ...values, temperature: 9.6 })
  await expect(temperature.locator('[data-value]')).toHaveText('12.5')

  await page.getByRole('button', { name: 'Note' }).click()
  await page.getByLabel('What was then?').fill('washed down')
  await page.getByRole('button', { name: 'Write it down' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  const flag = page.locator('main [data-note]').first()
  await expect(flag.locator('title')).toHaveText('washed down')

  await page.getByLabel('How fast').selectOption('600')
  await page.getByRole('button', { name: 'Play on from here' }).click()
  // It runs on until it has caught up with the present.
  await expect(temperature.locator('[data-value]')).toHaveText('9.6')
  await expect(page.getByTestId('live-mark')).toHaveText('Live')
  await expect(page.getByRole('button', { name: 'Edit' })).toBeVisible()

  await flag.locator('text').click()
  await expect(page.getByRole('dialog')).toContainText('washed down')
  await expect(page.getByRole('dialog')).toContainText('by Ines Marlow')
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.locator('main [data-note]')).toHaveCount(0)
})

test('all of a page is shown over one span, up to now or from when to when', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  const address = await makeDashboard(page, application, 'First cave', 'One cave')
  await page.goto(address)
  const spans = page.getByRole('navigation', { name: 'What the courses show' })
  /** Resolves when the course of so many hours is asked for. */
  const asksFor = (hours: number) =>
    page.waitForRequest((request) => {
      const { pathname, searchParams } = new URL(request.url())
      const length = Number(searchParams.get('to')) - Number(searchParams.get('from'))
      return pathname === '/api/traces' && Math.round(length / 3_600_000) === hours
    })
  const week = asksFor(7 * 24)
  await spans.getByRole('button', { name: 'A week' }).click()
  await week
  await expect(page).toHaveURL(/span=week/)
  await expect(page.getByTestId('live-mark')).toHaveText('Live')

  await spans.getByRole('button', { name: 'From … to …' }).click()
  await page.getByLabel('From', { exact: true }).fill('2026-03-01T06:00:00')
  await page.getByLabel('To', { exact: true }).fill('2026-03-01T10:00:00')
  const hours = asksFor(4)
  await page.getByRole('button', { name: 'Show it' }).click()
  await hours
  await expect(page.getByTestId('live-mark')).toHaveText('The past')
  await page.getByRole('button', { name: 'Live', exact: true }).first().click()
  await expect(spans.getByRole('button', { name: 'Each its own span' })).toHaveAttribute(
    'aria-pressed',
    'true',
  )
})

test('a page on a wall fills it and says when it is not live', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await application.send(await caveFromKit(page, application, 'First cave'), values)
  const address = await makeDashboard(page, application, 'First cave', 'One cave')
  await page.goto(address.replace('/dashboards/', '/wall/'))
  const digits = page
    .getByRole('figure', { name: 'Temperature', exact: true })
    .first()
    .locator('[data-value]')
  await expect(digits).toHaveText('11')
  const height = await digits.evaluate((element) => {
    const text = element as SVGTSpanElement
    const scale = text.getBoundingClientRect().width / text.getComputedTextLength()
    return Number.parseFloat(getComputedStyle(text).fontSize) * scale
  })
  expect(height).toBeGreaterThanOrEqual((page.viewportSize()?.height ?? 0) / 12 - 0.5)
  const overflow = await page.evaluate(() => document.documentElement.scrollHeight - window.innerHeight)
  expect(overflow).toBe(0)
  await expect(page.getByRole('navigation')).toHaveCount(0)
  await application.stop('SIGKILL')
  await expect(page.getByTestId('live-mark')).toHaveText('Not live')
  await application.start()
  await expect(page.getByTestId('live-mark')).toHaveText('Live')
})

test('anybody who has the link looks on, and sees one instrument where one was shared', async ({
  page,
  application,
  browser,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  const address = await makeDashboard(page, application, 'First cave', 'One cave')
  await page.goto(address)
  await page.getByRole('button', { name: 'More', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Share by a link' }).click()
  await page.getByRole('button', { name: 'Make the link' }).click()
  const link = await page.getByTestId('link').textContent()
  const stranger = await (await browser.newContext()).newPage()
  await stranger.goto(`${application.origin}/shared/${link?.trim().split('/shared/')[1] ?? ''}`)
  const temperature = stranger.getByRole('figure', { name: 'Temperature', exact: true })
  await expect(temperature.locator('[data-value]')).toHaveText('11')
  await application.send(token, { ...values, temperature: 12.5 })
  await expect(temperature.locator('[data-value]')).toHaveText('12.5')
  await expectAccessible(stranger)
  await expectNoSidewaysScroll(stranger)
  await stranger.context().close()
})

test('one begins at a page of one’s own choice, and has favourites', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await application.send(await caveFromKit(page, application, 'First cave'), values)
  const address = await makeDashboard(page, application, 'First cave', 'One cave')
  await page.goto(address)
  await page.getByRole('button', { name: 'A favourite of mine' }).click()
  await expect(page.getByRole('region', { name: 'Favourites' }).getByText('One cave')).toBeVisible()
  await page.getByRole('button', { name: 'More', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Begin here when I come' }).click()
  await page.goto(`${application.origin}/`)
  await expect(page.getByRole('heading', { name: 'One cave' })).toBeVisible()
  // Whoever asks for the sites gets them.
  await page.getByRole('link', { name: 'Watch' }).first().click()
  await expect(page.getByRole('heading', { name: 'Workshop' })).toBeVisible()
})

test('every instrument in every state can be looked at, in light and dark', async ({ page, application }) => {
  await settleIn(page, application)
  await page.goto(`${application.origin}/instruments`)
  await expect(page.getByRole('figure', { name: 'Vessel, beyond limit' })).toBeVisible()
  await expectAccessible(page)
  await page.emulateMedia({ colorScheme: 'dark' })
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
})

test('a page that has no past says so, and leads to one that has', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await application.send(await caveFromKit(page, application, 'First cave'), values)
  await page.goto(`${application.origin}/bench/kits`)
  await page.getByRole('slider', { name: 'A day of Workshop' }).focus()
  for (let press = 0; press < 6; press++) await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status').getByText('This page has no past.')).toBeVisible()
  await expect(page).toHaveURL(/\/bench\/kits$/)
  await page.getByRole('link', { name: /^The site at/ }).click()
  await expect(page.getByTestId('live-mark')).toHaveText('The past')
  await page.getByRole('button', { name: 'Live', exact: true }).click()
  await expect(page.getByTestId('live-mark')).toHaveText('Live')
})
