import {
  createDevice,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  openSettings,
  password,
  settleIn,
  test,
} from './application.ts'

test('somebody is invited to one site, looks, and may change nothing; what was done is written down', async ({
  page,
  application,
  browser,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Vat')
  await application.send(token, { temperature: 20 })
  await page.getByRole('button', { name: 'Accept Temperature' }).click()
  await openSettings(page, 'Sites')
  await page.getByRole('button', { name: 'Add a site' }).click()
  await page.getByLabel('Name').fill('Attic')
  await page.getByRole('button', { name: 'Add the site' }).click()
  await expect(page.getByRole('button', { name: 'Change Attic' })).toBeVisible()

  await openSettings(page, 'People')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Invite somebody' }).click()
  await page.getByLabel('Whom').fill('Tam')
  await page.getByLabel('At all sites').uncheck()
  await page.getByLabel('Attic').uncheck()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make the link' }).click()
  await expect(page.getByRole('img', { name: 'The invitation, to be scanned' })).toBeVisible()
  const link = (await page.getByTestId('invitation link').textContent()) ?? ''
  await page.keyboard.press('Escape')
  await expect(page.getByText('Tam, as viewer at Workshop')).toBeVisible()

  const elsewhere = await browser.newContext()
  const guest = await elsewhere.newPage()
  await guest.goto(link)
  await expect(guest.getByRole('heading', { name: 'Ines Marlow invites you' })).toBeVisible()
  await expectAccessible(guest)
  await guest.getByLabel('Name').fill('Tam Orrin')
  await guest.getByLabel('Password').fill(password)
  await guest.getByRole('button', { name: 'Come in' }).click()
  await expect(guest.getByRole('heading', { name: 'Workshop' })).toBeVisible()
  await expect(guest.getByRole('heading', { name: 'Attic' })).toHaveCount(0)
  await expect(guest.getByRole('link', { name: 'New device' })).toHaveCount(0)
  await guest.goto(`${application.origin}/devices/vat`)
  await expect(guest.getByRole('button', { name: 'Rename' })).toHaveCount(0)
  // Both have its page open now, and each is told of the other.
  await page.goto(`${application.origin}/devices/vat`)
  await expect(guest.getByText('also looking on: 1 signed in')).toBeVisible()
  await expect(page.getByText('also looking on: 1 signed in')).toBeVisible()

  await openSettings(page, 'People')
  await page.getByRole('button', { name: 'Change Tam Orrin' }).click()
  await page.getByLabel('More at Workshop').selectOption({ label: 'No role' })
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(guest.getByText('also looking on')).toHaveCount(0)
  await guest.goto(application.origin)
  await expect(guest.getByRole('heading', { name: 'Nothing to see yet' })).toBeVisible()
  await elsewhere.close()

  await openSettings(page, 'What was done')
  await expect(page.getByText('What Tam Orrin may do was changed.')).toBeVisible()
  await page.getByLabel('By').selectOption({ label: 'Tam Orrin' })
  await expect(page.getByText('Tam Orrin took an invitation as viewer.')).toBeVisible()
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
})

test('one chooses how numbers are written, and a new password', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Vat')
  await application.send(token, { temperature: 20.5 })
  await page.getByRole('button', { name: 'Accept Temperature' }).click()
  await openSettings(page, 'You')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
  await page.getByLabel('Numbers and dates').selectOption('de-DE')
  await expect(page.getByText('Such as 1.234,5')).toBeVisible()
  await page.getByLabel('The current one').fill(password)
  await page.getByLabel('A new one').fill('another gate, another goat')
  await page.getByRole('button', { name: 'Take the new password' }).click()
  await expect(page.getByText('The new password holds.')).toBeVisible()
  await page.goto(`${application.origin}/devices/vat`)
  await expect(page.getByTestId('value-/temperature')).toHaveText('20,5')
})

test('a program gets a token that is shown once, and loses it', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await createDevice(page, 'Vat')
  await openSettings(page, 'Tokens')
  await page.getByRole('button', { name: 'New token' }).click()
  await page.getByLabel('What it is for').fill('Weekly report')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make it' }).click()
  const token = (await page.getByTestId('token').textContent()) ?? ''
  await page.keyboard.press('Escape')
  const ask = async () =>
    (await fetch(`${application.origin}/api/devices`, { headers: { Authorization: `Bearer ${token}` } }))
      .status
  expect(await ask()).toBe(200)
  await expectNoSidewaysScroll(page)
  await page.getByRole('button', { name: 'Take back Weekly report' }).click()
  await expect(page.getByText('No program has a key yet')).toBeVisible()
  expect(await ask()).toBe(401)
})

test('anything is found by a few letters and the keyboard alone', { tag: '@desk' }, async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Vat')
  await application.send(token, { temperature: 20.5 })
  await page.getByRole('button', { name: 'Accept Temperature' }).click()
  await page.goto(application.origin)
  await expect(page.getByRole('heading', { name: 'Workshop' })).toBeVisible()
  await page.keyboard.press('/')
  await expect(page.getByRole('combobox')).toBeFocused()
  await page.keyboard.type('temp vat')
  await expect(page.getByRole('option')).toHaveCount(1)
  await expectAccessible(page)
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/devices\/vat$/)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('tok')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Tokens' })).toBeVisible()
})

test('somebody sees in another unit what is measured in its own', async ({ page, application }) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Vat')
  await application.send(token, { temperature: 20 })
  await page.getByRole('button', { name: 'Accept Temperature' }).click()
  await page.getByRole('button', { name: 'Change Temperature' }).click()
  await page.getByLabel('Unit', { exact: true }).fill('celsius')
  await page.getByRole('option', { name: '°C degree Celsius' }).click()
  await page.getByRole('button', { name: 'Save' }).click()
  const value = page.getByRole('region', { name: 'Temperature', exact: true })
  await expect(value).toContainText('20°C')

  await openSettings(page, 'You')
  await page.getByRole('button', { name: 'Show a unit in another one' }).click()
  await page.getByLabel('What is in').fill('cel')
  await page.getByLabel('What is in').press('Enter')
  await page.getByLabel('is shown in').fill('fahr')
  await expectAccessible(page)
  await page.getByLabel('is shown in').press('Enter')
  await page.getByRole('button', { name: 'Show it so' }).click()
  await expect(page.getByText('°C is shown in °F')).toBeVisible()
  await expectNoSidewaysScroll(page)

  await page.goto(`${application.origin}/devices/vat`)
  await expect(value).toContainText('68°F')
  await application.send(token, { temperature: 25 })
  await expect(value).toContainText('77°F')
  await expect(value).toContainText('68 to 77 °F in the hour')
})
