import pg from 'pg'
import { expect, expectAccessible, expectNoSidewaysScroll, settleIn, test } from './application.ts'

test('a stranger is told to open the link that the server printed, and who has it becomes the owner', async ({
  page,
  application,
}) => {
  await page.goto(application.origin)
  await expect(page.getByText('created with the link that was printed')).toBeVisible()
  await expect(page.getByLabel('Name')).toHaveCount(0)
  await expectAccessible(page)
  await settleIn(page, application)
})

test('the owner sees how the server is doing, and says that its clock is right', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  await page.getByRole('button', { name: 'Ines Marlow' }).click()
  await page.getByRole('menuitem', { name: 'Settings' }).click()
  await page.getByRole('link', { name: 'This server' }).click()
  await expect(page.getByRole('heading', { name: 'This server' })).toBeVisible()
  await expect(page.getByText('Agrees with the database')).toBeVisible()
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  // As if the machine had been off for a month, or its clock were a month ahead.
  await application.stop()
  const client = new pg.Client({ connectionString: application.databaseUrl })
  await client.connect()
  await client.query(`update heartbeat set at = at - interval '30 days'`)
  await client.end()
  await application.start()
  await page.goto(application.origin)
  const banner = page.getByRole('status').filter({ hasText: 'Is the clock of this server right?' })
  await expect(banner).toContainText('Was it off all that time?')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
  await banner.getByRole('button', { name: 'The clock is right' }).click()
  await expect(banner).toHaveCount(0)
})
