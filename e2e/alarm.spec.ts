import {
  caveFromKit,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  settleIn,
  test,
} from './application.ts'

const values = { temperature: 11, humidity: 94, co2: 800, nh3: 3, fogger: false, fan: false }
const minute = 60

test('an alarm is tried on the past, stated, raised, answered, let rest, and returns', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  // Three hours in which it dries out three times, once for a moment only.
  const now = Math.floor(Date.now() / 1000)
  const past = Array.from({ length: 180 }, (_, n) => ({
    ...values,
    t: now - (180 - n) * minute,
    humidity: n % 60 < (n < 60 ? 2 : 20) ? 80 : 94,
  }))
  await application.send(token, past)
  await application.send(token, values)
  await page.goto(`${application.origin}/guard`)
  await expect(page.getByText('Nothing is out of the ordinary.')).toBeVisible()
  await expectAccessible(page)
  await page.goto(`${application.origin}/devices/first-cave`)
  await page
    .getByRole('region', { name: 'Humidity', exact: true })
    .getByRole('link', { name: 'New alarm' })
    .click()
  await expect(page.getByRole('heading', { name: 'New alarm', level: 1 })).toBeVisible()
  await page.getByLabel('the signal is').selectOption('low')
  await page.getByLabel('Limit, %').fill('85')
  await page.getByLabel('Back by, %').fill('2')
  const raised = page.getByRole('group', { name: 'It is raised when' })
  await raised.getByLabel('for at least').selectOption('0')
  await raised.getByLabel('and back for').selectOption('0')
  const trial = page.getByRole('region', { name: 'Tried on the past' })
  await trial.getByRole('button', { name: 'A day' }).click()
  await expect(trial.getByRole('status')).toContainText('3 alarms, 42 min in all')
  // Its delay is slid to five minutes: what was over sooner is none.
  const delay = trial.getByLabel('Only when it has been so for')
  await delay.focus()
  for (let step = 0; step < 5; step++) await page.keyboard.press('ArrowRight')
  await expect(delay).toHaveAttribute('aria-valuetext', '5 min')
  await expect(trial.getByRole('status')).toContainText('2 alarms, 30 min in all')
  // Its limit is dragged below all that was.
  const limit = trial.getByRole('slider', { name: 'Limit' })
  await limit.focus()
  for (let step = 0; step < 5; step++) await page.keyboard.press('PageDown')
  await expect(trial.getByRole('status')).toContainText('0 alarms')
  await page.getByLabel('Limit, %').fill('85')
  for (let step = 0; step < 5; step++) {
    await delay.focus()
    await page.keyboard.press('ArrowLeft')
  }
  await expect(trial.getByRole('status')).toContainText('3 alarms')
  await page.getByLabel('Priority').selectOption('urgent')
  await page.getByLabel('What to do').fill('Look whether the fogger runs')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
  await page.getByRole('button', { name: 'Make the alarm' }).click()
  await expect(page.getByRole('heading', { name: 'Humidity: too low', level: 1 })).toBeVisible()
  await expect(page.getByText('at rest', { exact: true })).toBeVisible()

  await page.getByRole('link', { name: 'Guard', exact: true }).click()
  await application.send(token, { ...values, humidity: 81 })
  const row = page.locator('[data-alarm]').filter({ hasText: 'Humidity, First cave: too low' })
  await expect(row).toContainText('81 %, limit 85 · Look whether the fogger runs')
  await expect(row).toContainText('urgent')
  await expect(page.locator('[data-alarm-count="1"]').locator('visible=true')).toBeVisible()
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  // With a word, by the keyboard.
  await row.focus()
  await page.keyboard.press('w')
  await page.getByLabel('A word for the others').fill('on my way')
  await page.getByRole('dialog').getByRole('button', { name: 'I see to it' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(row).toHaveAttribute('data-state', 'acknowledged')
  await expect(row).toContainText('Ines Marlow: on my way')
  await application.send(token, values)
  await expect(page.locator('[data-alarm]')).toHaveCount(0)

  // It comes again, is let rest, and is woken while it is still so.
  await application.send(token, { ...values, humidity: 80 })
  await expect(row).toHaveAttribute('data-state', 'unacknowledged')
  await row.focus()
  await page.keyboard.press('r')
  await page.getByLabel('Why').fill('the fogger is being mended')
  await page.getByRole('dialog').getByRole('button', { name: 'Let it rest' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(row).toContainText('Ines Marlow: the fogger is being mended')
  await row.getByRole('button', { name: 'Wake' }).click()
  await expect(row).toHaveAttribute('data-state', 'unacknowledged')
  await row.getByRole('button', { name: 'I see to it' }).click()
  await expect(row).toHaveAttribute('data-state', 'acknowledged')

  await row.getByRole('link', { name: 'Humidity, First cave: too low' }).click()
  const happened = page.getByRole('region', { name: 'What happened' })
  await expect(happened.getByRole('listitem').first()).toContainText('Ines Marlow sees to it')
  await expect(happened).toContainText('“on my way”')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
})

test('alarms are marked where their signal is drawn, and lead to what is known of them', {
  tag: '@desk',
}, async ({ page, application }) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  await page.goto(`${application.origin}/devices/first-cave`)
  await page
    .getByRole('region', { name: 'Fan', exact: true })
    .getByRole('link', { name: 'New alarm' })
    .click()
  await page.getByRole('group', { name: 'It is raised when' }).getByLabel('for at least').selectOption('0')
  await page.getByRole('button', { name: 'Make the alarm' }).click()
  await expect(page.getByRole('heading', { name: 'Fan: on', level: 1 })).toBeVisible()
  await application.send(token, { ...values, fan: true })
  await expect(page.locator('[data-state=unacknowledged]')).toBeVisible()
  await expect(page.locator('[data-alarm-mark]')).toHaveCount(1)
  await page.getByRole('link', { name: 'Watch', exact: true }).click()
  await page.locator('[data-alarm-here]').first().click()
  await expect(page.getByRole('heading', { name: 'Fan: on', level: 1 })).toBeVisible()
  await page.getByRole('link', { name: 'Alarms', exact: true }).click()
  await page.getByRole('link', { name: 'How the alarms do' }).click()
  await expect(page.locator('[data-record]').first()).toContainText('Fan, First cave: on')
  await expectAccessible(page)
})
