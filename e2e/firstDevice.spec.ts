import { execFileSync } from 'node:child_process'
import {
  chooseForDevice,
  createDevice,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  password,
  settleIn,
  test,
} from './application.ts'

test('from an empty machine to a number that moves', async ({ page, application }) => {
  await page.goto(application.firstRunUrl)
  await expect(page.getByRole('heading', { name: 'Nobody lives here yet' })).toBeVisible()
  await expectAccessible(page)
  await settleIn(page, application)
  await expectAccessible(page)

  await page.getByRole('main').getByRole('link', { name: 'Create the first device' }).click()
  await page.getByLabel('Name').fill('Brine tank, north')
  await expect(page.getByLabel('Address')).toHaveValue('brine-tank-north')
  await page.getByLabel('Address').fill('Brine Tank')
  await expect(page.getByText('Use lower-case letters')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Create the device' })).toBeDisabled()
  await page.getByLabel('Address').fill('brine')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Create the device' }).click()

  await expect(page.getByRole('heading', { name: 'Brine tank, north' })).toBeVisible()
  await expect(page.getByText('Waiting for its first message')).toBeVisible()
  await expect(page.getByTestId('live-mark')).toHaveText('Live')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  const line = (await page.getByTestId('curl line').textContent()) ?? ''
  expect(line).toContain(`${application.origin}/in`)
  execFileSync('bash', ['-c', `${line} --silent --fail`])
  const suggestion = page.getByRole('region', { name: 'Suggested signals' })
  await expect(suggestion.getByText('21.5')).toBeVisible()
  await expectAccessible(page)
  await suggestion.getByRole('button', { name: 'Accept Temperature' }).click()

  const track = page.getByRole('region', { name: 'Temperature', exact: true })
  await expect(track.getByTestId('value-/temperature')).toHaveText('21.5')
  await expect(suggestion).toBeHidden()
  await page.getByRole('button', { name: 'I have kept it' }).click()
  await expect(page.getByRole('region', { name: 'Secret' })).toBeHidden()

  await track.getByRole('button', { name: 'Change Temperature' }).click()
  await page.getByLabel('Name').fill('Brine temperature')
  await page.getByLabel('Unit', { exact: true }).fill('celsius')
  await page.getByLabel('Unit', { exact: true }).press('Enter')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('region', { name: 'Brine temperature' })).toContainText('°C')
})

test('the chart grows as readings come in, and tells time and value where one points', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  const start = Date.now() - 20 * 60_000
  await application.send(
    token,
    Array.from({ length: 40 }, (_, n) => ({ level: 100 + n, t: start + n * 30_000 })),
  )
  await page.getByRole('button', { name: 'Accept Level' }).click()
  const track = page.getByRole('region', { name: 'Level', exact: true })
  const line = track.getByTestId('trace')
  const before = (await line.getAttribute('d')) ?? ''
  expect(before.split('L').length).toBeGreaterThan(30)

  await application.send(token, { level: 180 })
  await expect(track.getByTestId('value-/level')).toHaveText('180')
  await expect(line).not.toHaveAttribute('d', before)
  await expect(track).toContainText('100 to 180')

  // A backlog that no frame has room for.
  await application.send(
    token,
    Array.from({ length: 300 }, (_, n) => ({ level: n === 0 ? 20 : 120, t: start + n * 3000 + 1 })),
  )
  await expect(track).toContainText('20 to 180')

  const chart = track.getByRole('group', { name: 'Chart of Level' })
  const box = await chart.boundingBox()
  if (!box) throw new Error('the chart is not drawn')
  await chart.hover({ position: { x: box.width * 0.8, y: box.height / 2 } })
  await expect(track.getByTestId('hover')).toHaveText(/1\d\d\s+\d\d:\d\d:\d\d/)
})

test('the page says when it is not live, and catches up by itself', async ({ page, application }) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  await application.send(token, { level: 1 })
  await page.getByRole('button', { name: 'Accept Level' }).click()
  const value = page.getByTestId('value-/level')
  await expect(value).toHaveText('1')

  await application.stop('SIGKILL')
  await expect(page.getByTestId('live-mark')).toHaveText('Not live')
  await expect(page.getByText(/Not live since/)).toBeVisible()
  await expect(value).toHaveText('1')
  await expectAccessible(page)

  await application.start()
  await application.send(token, { level: 2 })
  await expect(page.getByTestId('live-mark')).toHaveText('Live', { timeout: 40_000 })
  await expect(value).toHaveText('2')
  await expect(page.getByText(/Not live since/)).toBeHidden()
})

test('a device is renamed, gets a new secret, and is deleted with its readings', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  await application.send(token, { level: 1, relay: true })
  await page.getByRole('button', { name: 'Ignore Relay' }).click()
  await page.getByRole('button', { name: 'Accept Level' }).click()
  await expect(page.getByRole('region', { name: 'Suggested signals' })).toBeHidden()

  await page.getByRole('button', { name: 'Rename' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Whey pump')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('heading', { name: 'Whey pump', level: 1 })).toBeVisible()
  await expect(page.getByRole('main').getByText('probe', { exact: true }).first()).toBeVisible()

  await chooseForDevice(page, 'New secret')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make a new secret' }).click()
  await expect(page.getByTestId('secret')).not.toHaveText(token.split('.')[1] ?? '')
  const fresh = `probe.${await page.getByTestId('secret').textContent()}`
  await application.send(fresh, { level: 2 })
  await expect(page.getByTestId('value-/level')).toHaveText('2')

  await chooseForDevice(page, 'Delete')
  await expect(page.getByRole('dialog')).toContainText('3 readings')
  await page.getByRole('button', { name: 'Delete for good' }).click()
  await expect(page.getByText('No devices here yet')).toBeVisible()
})

test('signing out leads to the door, and the password back in', async ({ page, application }) => {
  await settleIn(page, application)
  await page.getByRole('button', { name: 'Ines Marlow' }).click()
  await page.getByRole('menuitemradio', { name: 'Dark' }).click()
  await expect(page.getByRole('menu')).toBeHidden()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Ines Marlow' }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await expect(page.getByRole('heading', { name: 'Good to see you' })).toBeVisible()
  await expectAccessible(page)
  await page.getByLabel('Name').fill('Ines Marlow')
  await page.getByLabel('Password').fill('not this one')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toContainText('do not match')
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Workshop' })).toBeVisible()
})

test('everything up to the first value is done with the keyboard alone', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await page.getByRole('main').getByRole('link', { name: 'Create the first device' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name')).toBeFocused()
  await page.keyboard.type('Probe')
  await page.keyboard.press('Enter')
  const secret = await page.getByTestId('secret').textContent()
  await application.send(`probe.${secret}`, { level: 7 })
  const accept = page.getByRole('button', { name: 'Accept Level' })
  await accept.waitFor()
  for (
    let presses = 0;
    presses < 60 && !(await accept.evaluate((button) => button === document.activeElement));
    presses++
  ) {
    await page.keyboard.press('Tab')
  }
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('value-/level')).toHaveText('7')
})
