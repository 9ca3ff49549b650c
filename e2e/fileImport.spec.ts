import {
  createDevice,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  settleIn,
  test,
} from './application.ts'

const pad = (number: number) => String(number).padStart(2, '0')

/** What a data logger writes that knows nothing of zones: an hour of minutes, in decimal commas. */
function loggerFile(rows: number): string {
  const start = new Date(Date.now() - rows * 1000)
  const lines = Array.from({ length: rows }, (_, n) => {
    const at = new Date(start.getTime() + n * 1000)
    const day = `${pad(at.getUTCDate())}.${pad(at.getUTCMonth() + 1)}.${at.getUTCFullYear()}`
    const time = `${pad(at.getUTCHours())}:${pad(at.getUTCMinutes())}:${pad(at.getUTCSeconds())}`
    return `${day} ${time};${(20 + n / rows).toFixed(3).replace('.', ',')};48;ok`
  })
  lines[2] = 'yesterday;20,1;48;ok'
  return ['Zeit;Temperature (°C);Humidity;Remark', ...lines].join('\n')
}

test('a file of a data logger is shown as it will be read, and stored once', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  await application.send(token, { temperature: 20 })
  await page.getByRole('button', { name: 'Accept Temperature' }).click()

  await page.getByRole('button', { name: 'Bring a file' }).click()
  const sheet = page.getByRole('dialog')
  await expectAccessible(page)
  const file = { name: 'logger.csv', mimeType: 'text/csv', buffer: Buffer.from(loggerFile(3000)) }
  await sheet.locator('input[type=file]').setInputFiles(file)
  await expect(sheet.getByLabel('What Zeit is')).toHaveValue('time')
  await expect(sheet.getByLabel('What Temperature (°C) is')).toHaveValue('/temperature')
  await expect(sheet.getByLabel('What Humidity is')).toHaveValue('/Humidity')
  await expect(sheet.getByLabel('What Remark is')).toHaveValue('out')
  await sheet.getByLabel('Times are written as').selectOption('day-first')
  await sheet.getByLabel('The clock showed the time of').selectOption('UTC')
  await expect(sheet.getByText('"yesterday" is not a time')).toBeVisible()
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  await sheet.getByRole('button', { name: 'Store the readings' }).click()
  await expect(sheet.getByRole('status')).toHaveText('The whole file is stored.')
  await expect(sheet).toContainText('5,998readings stored')
  await expect(sheet.getByRole('list', { name: 'Refused lines' })).toContainText('line 4')
  await expectAccessible(page)

  await sheet.getByRole('button', { name: 'Back to the file' }).click()
  await sheet.getByRole('button', { name: 'Store the readings' }).click()
  await expect(sheet).toContainText('0readings stored')
  await expect(sheet).toContainText('5,998were there already')
  await sheet.getByRole('button', { name: 'Close' }).first().click()
  await expect(page.getByRole('region', { name: 'Suggested signals' })).toContainText('48')
})

test('a long file can be cancelled, and what is no file of readings is refused in words', {
  tag: '@desk',
}, async ({ page, application }) => {
  await settleIn(page, application)
  await createDevice(page, 'Probe')
  await page.getByRole('button', { name: 'Bring a file' }).click()
  const sheet = page.getByRole('dialog')
  const input = sheet.locator('input[type=file]')
  await input.setInputFiles({
    name: 'picture.png',
    mimeType: 'image/png',
    buffer: Buffer.from([137, 80, 0, 1]),
  })
  await expect(sheet.getByRole('alert')).toContainText('picture.png is no text')
  await input.setInputFiles({
    name: 'plain.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('a,b\n1,2\n3,4\n'),
  })
  await expect(sheet.getByRole('alert')).toContainText('Which column tells the time?')
  await expect(sheet.getByRole('button', { name: 'Store the readings' })).toBeDisabled()

  const rows = Array.from({ length: 200_000 }, (_, n) => `${1_750_000_000_000 + n * 1000},${n}`)
  await input.setInputFiles({
    name: 'long.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`time,level\n${rows.join('\n')}`),
  })
  await sheet.getByRole('button', { name: 'Store the readings' }).click()
  await expect(sheet.getByRole('status')).toContainText('% of the file')
  await sheet.getByRole('button', { name: 'Cancel' }).click()
  await expect(sheet.getByRole('status')).toContainText('Cancelled at')
})
