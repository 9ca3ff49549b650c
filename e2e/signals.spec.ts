import type { Page } from '@playwright/test'
import { type Application, createDevice, expect, expectAccessible, settleIn, test } from './application.ts'

/** Asks the API as the page that is signed in. */
async function ask(page: Page, { origin }: Application, method: string, path: string, data?: object) {
  const { csrfToken } = await (await page.request.get(`${origin}/api/session`)).json()
  const answer = await page.request.fetch(`${origin}${path}`, {
    method,
    headers: { 'X-CSRF-Token': csrfToken, Origin: origin },
    ...(data && { data }),
  })
  expect(answer.ok(), await answer.text()).toBe(true)
  return answer.status() === 204 ? undefined : answer.json()
}

/** Makes a device of a kit that says all of its signals. @returns its credential */
async function deviceOf(page: Page, application: Application, name: string, kit: object): Promise<string> {
  await settleIn(page, application)
  const [site] = await ask(page, application, 'GET', '/api/sites')
  const { id } = await ask(page, application, 'POST', '/api/kits', {
    name: `${name} kit`,
    cadence: null,
    ...kit,
  })
  const address = name.toLowerCase().replaceAll(' ', '-')
  const { secret } = await ask(page, application, 'POST', '/api/devices', {
    name,
    address,
    siteId: site.id,
    kitId: id,
  })
  await page.goto(`${application.origin}/devices/${address}`)
  return `${address}.${secret}`
}

test('a device says every kind of thing', async ({ page, application }) => {
  const choices = [
    { code: 0, name: 'resting' },
    { code: 1, name: 'cooling' },
  ]
  const token = await deviceOf(page, application, 'Everything', {
    signals: [
      {
        field: '/temp',
        name: 'Temperature',
        kind: 'number',
        unit: 'Cel',
        conversion: 'x * 0.1',
      },
      { field: '/lid', name: 'Lid', kind: 'switch' },
      { field: '/state', name: 'State', kind: 'choice', choices },
      { field: '/says', name: 'Says', kind: 'text' },
      { field: '/box', name: 'Place', kind: 'position' },
      { field: '/flash', name: 'Flash', kind: 'momentary', origin: 'controlled' },
    ],
  })
  await application.send(token, {
    temp: 215,
    lid: true,
    state: 'cooling',
    says: 'all is well',
    box: { lat: 53.1, lon: -6.2 },
  })
  const value = (field: string) => page.getByTestId(`value-${field}`)
  await expect(value('/temp')).toHaveText('21.5')
  await expect(value('/lid')).toHaveText('on')
  await expect(value('/state')).toHaveText('cooling')
  await expect(value('/says')).toHaveText('all is well')
  await expect(value('/box')).toHaveText('53.10000° N 6.20000° W')
  await expect(page.getByRole('region', { name: 'Flash' })).toContainText('to be triggered')
  await expectAccessible(page)
  // It went off and on again before anybody could have seen it.
  const now = Date.now()
  await application.send(token, [
    { t: now + 1, lid: false },
    { t: now + 2, lid: true },
  ])
  await expect(page.getByRole('region', { name: 'Lid' })).toContainText('was off at')
})

test('a fourth probe on the wire appears by itself', async ({ page, application }) => {
  const token = await deviceOf(page, application, 'Vat', {
    signals: [
      {
        field: '/probes/{part}/temp',
        name: 'Probe',
        kind: 'number',
        unit: 'Cel',
        range: { low: -10, high: 110 },
      },
    ],
  })
  await application.send(token, { probes: { 1: { temp: 4 }, 2: { temp: 5 }, 3: { temp: 6 } } })
  for (const part of [1, 2, 3])
    await expect(page.getByRole('region', { name: `Probe ${part}` })).toContainText('°C')
  await application.send(token, { probes: { 4: { temp: 120 } } })
  const fourth = page.getByRole('region', { name: 'Probe 4' })
  await expect(fourth).toContainText('120')
  await expect(fourth).toContainText('beyond range')
})

test('a probe dies on a living board, and says so where it is', async ({ page, application }) => {
  const token = await deviceOf(page, application, 'Board', {
    cadence: { by: 'always', seconds: 0.5 },
    signals: [
      { field: '/a', name: 'Living', kind: 'number' },
      { field: '/b', name: 'Dead', kind: 'number' },
    ],
  })
  await application.send(token, { a: 1, b: 1 })
  let n = 1
  const speaking = setInterval(() => void application.post(token, { a: n++ }), 400)
  const dead = page.getByRole('region', { name: 'Dead' })
  await expect(dead).toContainText('late')
  await expect(page.getByRole('region', { name: 'Living' })).not.toContainText('late')
  await expect(page.getByText(/^heard /)).toBeVisible()
  clearInterval(speaking)
  await expect(page.getByText(/^late, last heard/)).toBeVisible()
})

test('one device has its own range, which is taken back with one click', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  const token = await deviceOf(page, application, 'Cave one', {
    signals: [{ field: '/co2', name: 'Gas', kind: 'number', unit: '[ppm]', range: { low: 0, high: 5000 } }],
  })
  await application.send(token, { co2: 900 })
  const gas = page.getByRole('region', { name: 'Gas' })
  await gas.getByRole('button', { name: 'Change Gas' }).click()
  await page.getByLabel('It is said').selectOption('for this device alone')
  await page.getByLabel('to', { exact: true }).fill('800')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(gas).toContainText('its own plausible range')
  await application.send(token, { co2: 901 })
  await expect(gas).toContainText('beyond range')
  await gas.getByRole('button', { name: 'Take back' }).click()
  await expect(gas).not.toContainText('its own')
  await application.send(token, { co2: 902 })
  await expect(gas).not.toContainText('beyond range')
})

test('what looked like a text at first is a number when it says so', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Hesitant')
  await application.send(token, { level: 'warming up' })
  const suggestion = page.getByRole('region', { name: 'Suggested signals' })
  await expect(suggestion).toContainText('a text')
  await application.send(token, { level: 41.5 })
  await expect(suggestion).toContainText('a number')
  await expect(suggestion).toContainText('41.5')
})
