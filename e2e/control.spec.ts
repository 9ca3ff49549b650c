import {
  caveFromKit,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  settleIn,
  test,
} from './application.ts'

const values = { temperature: 11, humidity: 90, co2: 800, nh3: 3, fogger: false, fan: false }

test('two screens and one switch: a wish is no fact until the device says so', async ({
  page,
  application,
  context,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  await page.goto(`${application.origin}/devices/first-cave`)
  const other = await context.newPage()
  await other.goto(application.origin)
  const here = page.getByRole('region', { name: 'Fogger', exact: true })
  const there = other.getByRole('figure', { name: 'Fogger', exact: true })
  const set = here.getByRole('group', { name: 'Set Fogger' })
  await expect(there.getByRole('button', { name: 'off', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  )

  await set.getByRole('button', { name: 'on', exact: true }).click()
  await expect(there).toContainText('asked for on, waits to be sent')
  await expect(there.locator('[data-value]')).toHaveText('off')
  await expect(set.getByRole('button', { name: 'off', exact: true })).toHaveAttribute('aria-pressed', 'true')

  const take = async () => {
    const response = await fetch(`${application.origin}/in?commands`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
      body: JSON.stringify(values),
    })
    return ((await response.json()) as { commands: { id: number; signal: string; value: unknown }[] })
      .commands
  }
  const [command] = await take()
  expect(command).toMatchObject({ signal: 'fogger', value: true })
  await expect(there).toContainText('asked for on, sent')
  await expect(here).toContainText('was sent, not confirmed yet')
  await application.send(token, { ...values, fogger: true })
  await expect(there.locator('[data-value]')).toHaveText('on')
  await expect(here).toContainText('is confirmed by the device')
  await expect(there.getByRole('button', { name: 'on', exact: true })).toHaveAttribute('aria-pressed', 'true')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  await page.getByRole('link', { name: 'Act', exact: true }).click()
  const item = page.getByRole('listitem').filter({ hasText: 'Fogger: on' })
  await expect(item).toContainText('Ines Marlow')
  await expect(item).toContainText('is confirmed by the device')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
})

test('what must not be asked is refused with its reason, and nothing is switched in the past', {
  tag: '@desk',
}, async ({ page, application }) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  await page.goto(`${application.origin}/devices/first-cave`)
  const fogger = page.getByRole('region', { name: 'Fogger', exact: true })
  await page.getByRole('button', { name: 'Change Fogger' }).click()
  await page.getByLabel('Signal', { exact: true }).selectOption('Fan')
  await page.getByLabel('Condition').selectOption('is off')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(page.getByRole('dialog')).toContainText('Fan is off')
  await page.getByLabel('It has to be held to confirm').check()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()

  const on = fogger.getByRole('button', { name: /^on/ })
  await on.focus()
  await page.keyboard.down('Enter')
  await expect(fogger).toContainText('Not sent: Not while Fan is off.')
  await page.keyboard.up('Enter')

  await page.goto(`${application.origin}/?at=${Date.now() - 60_000}`)
  const figure = page.getByRole('figure', { name: 'Fogger', exact: true })
  await expect(figure).toBeVisible()
  await expect(figure.getByRole('button', { name: /^on/ })).toHaveCount(0)
})
