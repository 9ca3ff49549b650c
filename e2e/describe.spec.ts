import {
  chooseForDevice,
  createDevice,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  settleIn,
  test,
} from './application.ts'

test('everything a device says is proposed from its first message, and accepted at once', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Cave node')
  await application.send(token, {
    temp: 11.4,
    rh: 93,
    co2: 812,
    accel: { x: 0.01, y: 0.02, z: 0.99 },
    door: true,
  })
  const suggested = page.getByRole('region', { name: 'Suggested signals' })
  await expect(suggested.getByText('by its name and value in °C, a guess')).toBeVisible()
  await expect(suggested.getByText('one of “Accel”').first()).toBeVisible()
  await expectAccessible(page)
  await suggested.getByRole('button', { name: 'Accept all 7' }).click()
  await expect(suggested).toBeHidden()
  await expect(page.getByRole('region', { name: 'Temp', exact: true })).toContainText('11.4°C')
  await expect(page.getByRole('region', { name: 'Co 2', exact: true })).toContainText('812ppm')

  // The program it needs knows address, secret and fields.
  await chooseForDevice(page, 'Its program')
  await expect(page.getByRole('region', { name: 'board_secrets.py' })).toContainText(
    token.split('.')[1] ?? '',
  )
  await page.getByLabel('Written in').selectOption({ label: 'Python' })
  await expect(page.getByRole('region', { name: 'secrets.json' })).toContainText(token.split('.')[1] ?? '')
  const program = page.getByRole('region', { name: 'send.py' })
  await expect(program).toContainText('"accel": {"x": 0.01, "y": 0.02, "z": 0.99}')
  await page.getByLabel('Written in').selectOption({ label: 'Shell' })
  await expect(page.getByRole('region', { name: 'send.sh' })).toContainText('EVERY=')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
})

test('what is sent raw is put right by a formula found by what is on the table', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Brine')
  await application.send(token, { counts: 2048 })
  await page.getByRole('button', { name: 'Accept Counts' }).click()
  const track = page.getByRole('region', { name: 'Counts', exact: true })
  await expect(track.getByTestId('value-/counts')).toHaveText(/2.048/)
  await page.getByRole('button', { name: 'Change Counts' }).click()

  // Mistyped, it says where and what.
  const formula = page.getByLabel(/Its unit is made of what is sent/)
  await formula.fill('x * 2 +')
  await expect(page.getByText('Something is missing at the end.')).toBeVisible()

  await page.getByRole('button', { name: 'Find a formula by what is on the table' }).click()
  await page
    .getByLabel('On the table lies')
    .selectOption({ label: 'Thermistor to ground, on an analog input' })
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Write this formula' }).click()
  await expect(formula).toHaveValue(
    /^thermistor_beta\(divider_to_ground\(adc_volts\(x, 12, 3.3\), 3.3, 10000\)/,
  )
  await expect(page.getByRole('cell', { name: '25 °C' })).toBeVisible()
  await expect(page.getByRole('img', { name: 'The course of the formula' })).toBeVisible()
  await page.getByLabel('Plausible from').fill('30')
  await expect(page.getByText(/would lie beyond the plausible range/)).toBeVisible()
  await page.getByLabel('Plausible from').fill('-10')
  await page.getByRole('button', { name: 'Add one' }).click()
  await page.getByLabel('Fault value 1').fill('4095')
  await page.getByLabel('What fault 1 is called').fill('no thermistor')
  await expectNoSidewaysScroll(page)
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()

  await application.send(token, { counts: 2048 })
  await expect(track.getByTestId('value-/counts')).toHaveText('25')
  await track.getByRole('button', { name: 'Doubt Counts' }).click()
  await page.getByLabel('Why it is not to be trusted').fill('hangs in the sun')
  await page.getByRole('button', { name: 'Mark it doubtful' }).click()
  await expect(track.getByText('by Ines Marlow: hangs in the sun')).toBeVisible()
  await track.getByRole('button', { name: 'Trust it again' }).click()
  await expect(track.getByText('hangs in the sun')).toBeHidden()
  await track.getByRole('button', { name: '25' }).click()
  const sheet = page.getByRole('dialog', { name: 'Where Counts comes from' })
  await expect(sheet.getByText('x = 2048')).toBeVisible()
  await expect(sheet.getByText('{"counts":2048}')).toBeVisible()
  await expectAccessible(page)
  await page.keyboard.press('Escape')
  await application.send(token, { counts: 4095 })
  await expect(track.getByTestId('value-/counts')).toHaveText('no thermistor')
  await expect(track).toContainText('at fault')

  // The resistor was another one all the time: the past is made right, and put back.
  await page.getByRole('button', { name: 'Change Counts' }).click()
  await formula.fill('thermistor_beta(divider_to_ground(adc_volts(x, 12, 3.3), 3.3, 33620.6), 10000, 3950)')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.getByRole('button', { name: 'Change Counts' }).click()
  await page.getByRole('button', { name: 'Make the past anew …' }).click()
  await expect(page.getByText(/The first goes from 25 to /)).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make it anew' }).click()
  await expect(page.getByText('1 reading changed.')).toBeVisible()
  await page.getByRole('button', { name: 'Put back' }).click()
  await expect(page.getByText('put back', { exact: true })).toBeVisible()
})

test('a kit is pasted from a spreadsheet, and made into devices', { tag: '@desk' }, async ({
  page,
  application,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await settleIn(page, application)
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  await page.getByRole('link', { name: 'Kits' }).click()
  await page.getByRole('button', { name: 'New kit' }).click()
  await page.getByRole('button', { name: 'Add a signal' }).click()
  await page.evaluate(() =>
    navigator.clipboard.writeText(
      [
        'Name\tField\tKind\tUnit\tDecimals\tPlausible\tShown\tLimits',
        'Temperature\ttemp\t\t°C\t1\t-10 to 40\t5 to 15\tlow 8, high 14, deadband 0.5, after 60 s',
        'Ammonia\tnh3\tnumber\tppm\t\tto 500\t\thigh 25',
        'Door\tdoor\tswitch',
      ].join('\n'),
    ),
  )
  await page.getByLabel('Name of the new signal').focus()
  await page.keyboard.press('Control+V')
  await expect(page.getByLabel('Limits of Temperature')).toHaveValue(/low 8/)
  await expectAccessible(page)

  // The rest goes by the keyboard alone.
  await page.getByLabel('Unit of Ammonia').focus()
  await page.keyboard.type('x')
  await expect(page.getByText('"ppmx" is no unit', { exact: false })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Save', exact: true }).first()).toBeDisabled()
  await page.keyboard.press('Backspace')
  await page.keyboard.press('ArrowUp')
  await expect(page.getByLabel('Unit of Temperature')).toBeFocused()
  const save = page.getByRole('button', { name: 'Save', exact: true }).first()
  await save.focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText('Type into a cell')).toBeVisible()
  await page.reload()
  await expect(page.getByLabel('Limits of Temperature')).toHaveValue(
    'low 8, high 14, deadband 0.5, after 1 min',
  )

  await page.getByRole('link', { name: 'New device of it' }).click()
  await expect(page.getByRole('heading', { name: 'A new device' })).toBeVisible()
  await page.getByLabel('Name').fill('Cave {1..3}')
  await page.getByRole('button', { name: 'Create 3 devices' }).click()
  await expect(page.getByRole('heading', { name: '3 new devices' })).toBeVisible()
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Keep them as CSV' }).click()
  expect((await download).suggestedFilename()).toBe('devices.csv')
  const credential = (await page.locator('code').first().textContent()) ?? ''
  await application.send(credential, { temp: 11, nh3: 3, door: false })
  await page.getByRole('main').getByRole('link', { name: 'Cave 1' }).click()
  await expect(page.getByRole('region', { name: 'Temperature', exact: true })).toContainText('11.0°C')
})
