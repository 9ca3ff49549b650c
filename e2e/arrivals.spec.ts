import { execFileSync } from 'node:child_process'
import {
  createDevice,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  openArrivals,
  settleIn,
  test,
} from './application.ts'

test('what comes in is seen, and why it was refused', async ({ page, application }) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  await openArrivals(page)
  await expect(page.getByText('Nothing has come in yet')).toBeVisible()
  await expectAccessible(page)

  await application.send(token, { level: 3.25 })
  const stored = page.getByRole('button', { name: /probe stored 1/ })
  await expect(stored).toBeVisible()
  await application.post('probe.wrong', { level: 1 })
  const refused = page.getByRole('button', { name: /probe .*refused/ })
  await expect(refused).toBeVisible()
  await expectNoSidewaysScroll(page)

  const detail = page.getByRole('region', { name: 'The chosen message' })
  await refused.click()
  await expect(detail).toContainText('The secret is not the one of "probe"')
  await stored.click()
  await expect(detail).toContainText('{"level":3.25}')
  await detail.getByRole('tab', { name: 'Hex' }).click()
  await expect(detail).toContainText('7b 22 6c 65 76 65 6c')
  await expectAccessible(page)
  await detail.getByRole('button', { name: 'Accept Level' }).click()
  await expect(detail.getByRole('button', { name: 'Accept Level' })).toBeHidden()

  await page.getByLabel('Outcome').selectOption('refused')
  await expect(stored).toBeHidden()
  await expect(refused).toBeVisible()
})

test('a mistyped field is put right by choosing what it is', async ({ page, application }) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  await application.send(token, { temperature: 20 })
  await page.getByRole('button', { name: 'Accept Temperature' }).click()
  await application.send(token, { temprature: 21.5 })
  await openArrivals(page)
  await page
    .getByRole('button', { name: /probe stored 1/ })
    .first()
    .click()
  const detail = page.getByRole('region', { name: 'The chosen message' })
  await detail.getByLabel('Read a signal from temprature').selectOption({ label: 'Temperature (now 20 °C)' })
  await expect(detail).toContainText('Temperature: 21.5')
  await page.getByRole('link', { name: 'Watch', exact: true }).click()
  await expect(page.getByRole('article', { name: 'Probe' })).toContainText('21.5')
  await expect(page.getByText('suggested signal')).toBeHidden()
})

test('the list stands still while it is paused, and a text finds what is in a message', {
  tag: '@desk',
}, async ({ page, application }) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  for (const level of [1, 2, 3]) await application.send(token, { level, note: level * 1000 })
  await openArrivals(page)
  const rows = page.getByRole('button', { name: /probe stored/ })
  await expect(rows).toHaveCount(3)
  await page.getByRole('button', { name: 'Pause' }).click()
  await application.send(token, { level: 4 })
  await expect(page.getByRole('button', { name: 'Go on (1 more)' })).toBeVisible()
  await expect(rows).toHaveCount(3)
  await page.getByRole('button', { name: 'Go on (1 more)' }).click()
  await expect(rows).toHaveCount(4)
  await page.getByLabel('Text').fill('"note":2000')
  await expect(rows).toHaveCount(1)
})

test('a message can be tried before any board sends it', { tag: '@desk' }, async ({ page, application }) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  await application.send(token, { level: 1 })
  await openArrivals(page)
  await page.getByRole('button', { name: 'Try a message' }).click()
  const sheet = page.getByRole('dialog')
  await sheet.getByRole('textbox', { name: 'Message' }).fill('{"level": "7,5"}')
  await sheet.getByRole('button', { name: 'Try it' }).click()
  await expect(sheet).toContainText('has a decimal comma: send 7.5')
  await sheet.getByRole('textbox', { name: 'Message' }).fill('{"level": 7}')
  await sheet.getByRole('button', { name: 'Try it' }).click()
  await expect(sheet).toContainText('Level: 7')
  await expectAccessible(page)
  await sheet.getByRole('button', { name: 'Close' }).first().click()
  await expect(page.getByRole('button', { name: /probe stored/ })).toHaveCount(1)
})

test('the MQTT line works as it stands', { tag: '@desk' }, async ({ page, application }) => {
  await settleIn(page, application)
  await createDevice(page, 'Probe')
  const line = (await page.getByTestId('MQTT line').textContent()) ?? ''
  execFileSync('bash', ['-c', line])
  await expect(page.getByRole('region', { name: 'Suggested signals' }).getByText('21.5')).toBeVisible({
    timeout: 1000,
  })
})
