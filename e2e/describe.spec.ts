import { readFile } from 'node:fs/promises'
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
  await expect(page.getByRole('region', { name: 'board.ino' })).toContainText('double accel_x = 0.01;')
  await expect(page.getByRole('region', { name: 'board_secrets.h' })).toContainText(token.split('.')[1] ?? '')
  await page.getByLabel('Written in').selectOption({ label: 'MicroPython' })
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

test('a signal follows from two others, is explained by them, and is said otherwise', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Cave node')
  await application.send(token, { temperature: 20, humidity: 50 })
  await page.getByRole('button', { name: 'Accept all 2' }).click()
  await expect(page.getByRole('region', { name: 'Suggested signals' })).toBeHidden()

  await chooseForDevice(page, 'Derive a signal')
  await page.getByLabel('What do you want to know?').selectOption({ label: 'Dew point' })
  // What fits is picked by its unit, and the value is seen before it is made.
  await expect(page.getByLabel('Temperature of the air')).toContainText('Temperature · 20')
  await expect(page.getByText('air = 20, humidity = 50')).toBeVisible()
  await expect(page.getByText(/^9\.2\d* °C$/)).toBeVisible()
  const formula = page.getByLabel('Formula', { exact: true })
  await formula.fill('dew_point(air, damp)')
  await expect(page.getByText('"humidity" is not in the formula.')).toBeVisible()
  await formula.fill('dew_point(air, humidity)')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
  await page.getByRole('button', { name: 'Derive it' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()

  const track = page.getByRole('region', { name: 'Dew point', exact: true })
  await expect(track).toContainText('9.26°C')
  await application.send(token, { temperature: 20, humidity: 100 })
  await expect(track).toContainText('20.0°C')
  await track.getByTitle('Where does this come from?').click()
  await expect(page.getByRole('dialog')).toContainText('humidity = 100, Humidity of Cave node: its value')
  await expectAccessible(page)
  await page.keyboard.press('Escape')

  await track.getByRole('button', { name: 'Change Dew point' }).click()
  await formula.fill('air - dew_point(air, humidity)')
  await page.getByLabel('Name').fill('Above the dew point')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  const above = page.getByRole('region', { name: 'Above the dew point' })
  await expect(above).toContainText('0.0°C')
  // Its past is made anew, and so is what is drawn of it.
  await expect(above).toContainText('0.0 to 10.7 °C in the hour')
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

test('a board gets another kit, other hardware and another address, is retired and taken back', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  // A kit that is ready is begun from, and kept as a file.
  await page.goto(`${application.origin}/bench/kits`)
  await page.getByLabel('Begin from a kit that is ready').selectOption('Cave node')
  await expect(page.getByLabel('Name of Dew point')).toBeVisible()
  await expect(page.getByLabel('Field of Dew point')).toBeDisabled()
  await page.getByRole('button', { name: 'Add a wire' }).click()
  await page.getByLabel('Pin 1', { exact: true }).fill('4')
  await page.getByLabel('Wire 1', { exact: true }).fill('yellow')
  await page.getByLabel('Part 1', { exact: true }).fill('humidity probe')
  await page.getByRole('button', { name: 'Save the wiring and notes' }).click()
  await expect(page.getByRole('button', { name: 'Save the wiring and notes' })).toBeHidden()
  await page.getByLabel('Add a picture').setInputFiles({
    name: 'node.png',
    mimeType: 'image/png',
    buffer: Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    ),
  })
  await expect(page.getByRole('img', { name: 'A device of the kit Cave node' })).toBeVisible()
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'As a file' }).click()
  const file = JSON.parse(await readFile(await (await download).path(), 'utf8'))
  expect(file.wiring).toEqual([{ pin: '4', wire: 'yellow', part: 'humidity probe' }])
  expect(file.picture).toMatch(/^data:image\/jpeg;base64,/)
  const dewPoint = file.signals.find(({ name }: { name: string }) => name === 'Dew point')
  expect(dewPoint.derivation.inputs[0].of).toEqual({ named: 'Temperature' })
  await expectAccessible(page)

  await page.goto(`${application.origin}/`)
  const token = await createDevice(page, 'Shed')
  await application.send(token, { temperature: 11, rssi: -67 })
  await page.getByRole('button', { name: 'Accept all 2' }).click()
  await expect(page.getByText(/signal strength -67/)).toBeVisible()
  await chooseForDevice(page, 'Another kit')
  await page.getByLabel('Kit', { exact: true }).selectOption({ label: 'Cave node' })
  await expect(page.getByText('Temperature', { exact: true }).last()).toBeVisible()
  await expect(page.getByText('Rssi', { exact: true }).last()).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Give it this kit' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.getByText('1 former signal of the kit it had before')).toBeVisible()
  await application.send(token, { temperature: 12, humidity: 100 })
  await expect(page.getByRole('region', { name: 'Dew point', exact: true })).toContainText('12.0°C')

  await chooseForDevice(page, 'Replace the hardware')
  await page.getByRole('button', { name: 'Replace it' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  const secret = (await page.getByTestId('secret').textContent()) ?? ''
  expect((await application.post(token, { temperature: 13 })).status).toBe(401)
  await page.getByRole('button', { name: 'I have kept it' }).click()
  await chooseForDevice(page, 'Another address')
  await page.getByLabel('Address', { exact: true }).fill('Barn')
  await expect(page.getByText('Use lower-case letters', { exact: false })).toBeVisible()
  await page.getByLabel('Address', { exact: true }).fill('barn')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Change the address' }).click()
  await expect(page).toHaveURL(/devices\/barn/)
  await application.send(`barn.${secret}`, { temperature: 14 })
  await expect(page.getByRole('region', { name: 'Temperature', exact: true })).toContainText('14°C')

  await chooseForDevice(page, 'Retire')
  await page.getByRole('button', { name: 'Retire it' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.getByText(/nothing is taken of it/)).toBeVisible()
  expect((await application.post(`barn.${secret}`, { temperature: 15 })).status).toBe(403)
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
  await page.getByText('Wiring, notes, and what was done with it').click()
  await expect(page.getByText('humidity probe')).toBeVisible()
  await expect(page.getByText(/Its hardware was replaced/)).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Take it back into service' }).click()
  await expect(page.getByText(/nothing is taken of it/)).toBeHidden()
  await application.send(`barn.${secret}`, { temperature: 16 })
})

test('parts have names of their own, and a value that means a fault is proposed', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Vat')
  await application.send(
    token,
    [85, 4.1, 4.2, 4.3, 4.2].map((temp, n) => ({ t: Date.now() - 60_000 + n * 1000, temp })),
  )
  await page.getByRole('button', { name: 'Accept Temp' }).click()
  const track = page.getByRole('region', { name: 'Temp', exact: true })
  await track.getByRole('button', { name: 'Change Temp' }).click()
  await expect(page.getByText('85 came once: just powered on?')).toBeVisible()
  await page.getByRole('button', { name: 'Take it for a fault' }).click()
  await expect(page.getByLabel('What fault 1 is called')).toHaveValue('just powered on')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await application.send(token, { temp: 85 })
  await expect(track).toContainText('just powered on')
  // Pressed by the keyboard, a chart tells where its values come from.
  await page.getByRole('group', { name: /Chart of Temp/ }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('dialog', { name: 'Where Temp comes from' })).toBeVisible()
  await page.keyboard.press('Escape')

  // One definition for all probes on the wire of another vat.
  await page.goto(`${application.origin}/bench/kits`)
  await page.getByLabel('Begin from a kit that is ready').selectOption('Vat node')
  await page.getByRole('link', { name: 'New device of it' }).click()
  await expect(page.getByRole('heading', { name: 'A new device' })).toBeVisible()
  await page.getByLabel('Name').fill('Second vat')
  await page.getByRole('button', { name: 'Create the device' }).click()
  const secret = (await page.getByTestId('secret').textContent()) ?? ''
  await page.getByRole('button', { name: 'I have kept it' }).click()
  await application.send(`second-vat.${secret}`, { probes: { '28-ff': 5, '28-aa': 4 } })
  await expect(page.getByRole('region', { name: 'Milk, 28-ff' })).toContainText('5°C')
  await chooseForDevice(page, 'Names of its parts')
  await page.getByLabel('28-ff', { exact: true }).fill('top')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('region', { name: 'Milk, top' })).toContainText('5°C')
})
