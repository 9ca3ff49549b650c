import { createDevice, expect, expectAccessible, settleIn, test } from './application.ts'

test('a signal that was read from the wrong field is put right, back to its first message', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await createDevice(page, 'Probe')
  const start = Date.now() - 60_000
  for (let n = 0; n < 3; n++)
    await application.send(token, { raw: 700 + n, probe: { c: 20 + n }, t: start + n })
  await page.getByRole('button', { name: 'Accept Raw' }).click()
  const signal = page.getByRole('region', { name: 'Raw', exact: true })
  await expect(signal).toContainText('702')

  await page.getByRole('button', { name: 'Change Raw' }).click()
  const sheet = page.getByRole('dialog')
  await sheet.getByRole('button', { name: /^c: 22/ }).click()
  await expect(sheet.getByLabel('Field', { exact: true })).toHaveValue('probe.c')
  await expectAccessible(page)
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet).toBeHidden()

  await page.getByRole('button', { name: 'Read again' }).click()
  await expect(sheet).toContainText('This would change 3 readings of 3 messages')
  await expect(sheet).toContainText('700')
  await expectAccessible(page)
  await sheet.getByRole('button', { name: 'Read again', exact: true }).click()
  await expect(sheet).toContainText('Nothing would change')
  await expect(sheet.getByRole('button', { name: 'Undo' })).toBeVisible()
  await sheet.getByRole('button', { name: 'Close' }).first().click()
  await expect(signal).toContainText('22')

  await page.getByRole('button', { name: 'Read again' }).click()
  await sheet.getByRole('button', { name: 'Undo' }).click()
  await expect(sheet).toContainText('undone')
  await sheet.getByRole('button', { name: 'Close' }).first().click()
  await expect(signal).toContainText('702')
})
