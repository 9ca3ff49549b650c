import { execFileSync } from 'node:child_process'
import {
  chooseForDevice,
  createDevice,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  openArrivals,
  settleIn,
  test,
} from './application.ts'

test('a topic nobody knows is claimed, and what it said before counts', async ({ page, application }) => {
  await settleIn(page, application)
  await createDevice(page, 'Bridge')
  const line = (await page.getByTestId('MQTT line').textContent()) ?? ''
  const publish = (topic: string, message: string) =>
    execFileSync('bash', ['-c', line.replace(/-t \S+/, `-t ${topic}`).replace(/-m .*/, `-m '${message}'`)])
  await chooseForDevice(page, 'Gateway')
  const gateway = page.getByRole('dialog')
  await gateway.getByLabel('Topics it may publish to besides its own').fill('garden/#')
  await gateway.getByRole('button', { name: 'Let it publish there' }).click()
  await expect(gateway.getByText('Saved.')).toBeVisible()
  await expectAccessible(page)
  await gateway.getByRole('button', { name: 'Close' }).first().click()

  await openArrivals(page)
  await expect(page.getByRole('heading', { name: 'Arrivals' })).toBeVisible()
  publish('garden/bed-2/air', '18.5')
  publish('garden/bed-2/soil', '{"top": 31}')
  const panel = page.getByRole('region', { name: 'Something new is talking' })
  await expect(panel.getByText('new', { exact: true })).toHaveCount(2)
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  await panel.getByRole('button', { name: 'Claim garden/bed-2/air' }).click()
  const sheet = page.getByRole('dialog')
  await expect(sheet.getByLabel('Topics')).toHaveValue('garden/bed-2/#')
  await expect(sheet.getByText('Takes in 2 topics, 2 messages so far')).toBeVisible()
  await expect(sheet.getByLabel('Name of the new device')).toHaveValue('Bed 2')
  await expectAccessible(page)
  await sheet.getByRole('button', { name: 'Claim', exact: true }).click()
  await expect(page.getByText('2 kept messages count now, with 2 readings')).toBeVisible()
  await expect(panel).toBeHidden()

  publish('garden/bed-2/air', '19.5')
  await expect(page.getByRole('button', { name: /bed-2 stored 1/ })).toHaveCount(3)
  await page.getByRole('link', { name: 'See Bed 2' }).click()
  await expect(page.getByRole('region', { name: 'Suggested signals' })).toContainText('19.5')
})

test('an address that knocks becomes a device', { tag: '@desk' }, async ({ page, application }) => {
  await settleIn(page, application)
  await application.post(`newcomer.${'x'.repeat(32)}`, { level: 12 })
  await openArrivals(page)
  const panel = page.getByRole('region', { name: 'Something new is talking' })
  await panel.getByRole('link', { name: 'Make the device' }).click()
  await expect(page.getByLabel('Name')).toHaveValue('Newcomer')
  await page.getByRole('button', { name: 'Create the device' }).click()
  await expect(page.getByRole('region', { name: 'Suggested signals' })).toContainText('12')
})

test('a limit is raised from the message it stopped', { tag: '@desk' }, async ({ page, application }) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  await chooseForDevice(page, 'Allowance')
  await page.getByLabel('Readings a minute').fill('1')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  // A day's worth may come at once, and not one more.
  const start = Date.now() - 1_440_000
  await application.send(
    token,
    Array.from({ length: 1440 }, (_, n) => ({ level: n, t: start + n * 1000 })),
  )
  expect((await application.post(token, { level: 2 })).status).toBe(429)
  await openArrivals(page)
  await page.getByRole('button', { name: /probe throttled/ }).click()
  await page.getByRole('button', { name: 'Raise the allowance' }).click()
  await page.getByLabel('Readings a minute').fill('100000')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect.poll(async () => (await application.post(token, { level: 3 })).status).toBe(204)
})
