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

test('a rule is picked, tried on the past, changed by its bound, switched on, and overruled by hand', async ({
  page,
  application,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  // Three hours in which it dries out twice, to 80 %.
  const now = Math.floor(Date.now() / 1000)
  const past = Array.from({ length: 180 }, (_, n) => ({
    ...values,
    t: now - (180 - n) * minute,
    humidity: n % 90 < 20 ? 80 : 94,
  }))
  await application.send(token, past)
  await application.send(token, values)
  await page.goto(`${application.origin}/devices/first-cave`)
  const fogger = page.getByRole('region', { name: 'Fogger', exact: true })
  await fogger.getByRole('link', { name: 'New rule' }).click()
  await expect(page.getByRole('heading', { name: 'New rule', level: 1 })).toBeVisible()

  const pick = async (part: string) => {
    await page.getByRole('group', { name: part }).getByRole('button', { name: 'Pick a signal' }).click()
    await page
      .getByRole('dialog')
      .getByRole('checkbox', { name: /Humidity/ })
      .check()
    await expectAccessible(page)
    await page.getByRole('button', { name: 'Add', exact: true }).click()
  }
  await pick('When')
  const when = page.getByRole('group', { name: 'When' })
  await when.getByLabel('is', { exact: true }).selectOption('below')
  // Typed sign by sign: what is no number yet is not taken for one.
  await when.getByLabel('Bound, %').fill('')
  await when.getByLabel('Bound, %').pressSequentially('-1.5')
  await expect(page.locator('[data-sentence]')).toContainText('is below -1.5 %')
  await when.getByLabel('Bound, %').fill('85')
  await pick('Until')
  const until = page.getByRole('group', { name: 'Until' })
  await until.getByLabel('is', { exact: true }).selectOption('above')
  await until.getByLabel('Bound, %').fill('90')
  const trial = page.getByRole('region', { name: 'Tried on the past' })
  await trial.getByRole('button', { name: 'A day' }).click()
  await expect(trial.getByRole('status')).toContainText('2 times, 40 min in all')
  await expect(trial.locator('[data-acting]')).toHaveCount(2)

  const bound = trial.getByRole('slider', { name: /^When Humidity of First cave is below 85/ })
  await bound.hover()
  const box = await bound.boundingBox()
  if (!box) throw new Error('the bound is nowhere')
  await page.mouse.move(box.x + 10, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x + 10, box.y + box.height / 2 + 150, { steps: 6 })
  await page.mouse.up()
  await expect(trial.getByRole('status')).toContainText('0 times')
  await when.getByLabel('Bound, %').fill('79')
  const moved = trial.getByRole('slider', { name: /^When/ })
  await moved.focus()
  await page.keyboard.press('PageUp')
  await expect(trial.getByRole('status')).toContainText('2 times, 40 min in all')
  await when.getByLabel('Bound, %').fill('85')
  await expect(page.locator('[data-sentence]')).toHaveText(
    'Fogger of First cave: on when Humidity of First cave is below 85 %, until Humidity of First cave is above 90 %, otherwise off.',
  )
  await page.getByLabel('Name of the rule').fill('Humidity low')
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
  await page.getByRole('button', { name: 'Make the rule' }).click()
  await expect(page.getByRole('heading', { name: 'Humidity low', level: 1 })).toBeVisible()

  await page
    .getByRole('group', { name: /^Whether/ })
    .getByText('On', { exact: true })
    .click()
  await expect(page.locator('[data-hold=rule]')).toHaveText('Held off by Humidity low.')
  await application.send(token, { ...values, humidity: 81 })
  await expect(page.locator('[data-hold=rule]')).toHaveText('Held on by Humidity low, which it is not yet.')
  const did = page.getByRole('region', { name: 'What it did' })
  await expect(did.getByRole('listitem')).toContainText('began')
  await expect(did.getByRole('link')).toHaveText('Humidity of First cave 81 %')

  await page.goto(`${application.origin}/devices/first-cave`)
  await expect(fogger).toContainText('Held on by Humidity low, which it is not yet.')
  await fogger.getByRole('group', { name: 'Set Fogger' }).getByRole('button', { name: /^off/ }).click()
  await expect(fogger).toContainText('In the hand of Ines Marlow until')
  await expect(fogger).toContainText('then on by Humidity low')
  await expectAccessible(page)
  await fogger.getByRole('button', { name: 'Back to the rules now' }).click()
  await expect(fogger).toContainText('Held on by Humidity low, which it is not yet.')

  await page.getByRole('link', { name: 'Act', exact: true }).click()
  const rules = page.getByRole('region', { name: 'Rules', exact: true })
  await expect(rules).toContainText(
    'on when Humidity is below 85 %, until Humidity is above 90 %, otherwise off',
  )
  await expect(page.getByRole('listitem').filter({ hasText: 'Fogger: on' }).first()).toContainText(
    'by the rule “Humidity low”',
  )
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)
})

test('the order of several is changed, and one that acts by the clock goes by the zone of its site', {
  tag: '@desk',
}, async ({ page, application }) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  await page.goto(`${application.origin}/act`)
  const make = async (name: string, value: string) => {
    await page.getByRole('link', { name: 'Act', exact: true }).click()
    await page.getByRole('button', { name: 'New rule' }).click()
    await page
      .getByRole('dialog')
      .getByRole('link', { name: /Fogger/ })
      .click()
    await page.getByRole('button', { name: 'Only at some times' }).click()
    await page.getByLabel('from, time').fill('00:00')
    await page.getByLabel('to, time').fill('00:00')
    await page.getByLabel('ask for', { exact: true }).selectOption(value)
    await page.getByLabel('Name of the rule').fill(name)
    await page.getByRole('button', { name: 'Make the rule' }).click()
    await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible()
    await page
      .getByRole('group', { name: /^Whether/ })
      .getByText('On', { exact: true })
      .click()
  }
  await make('All day on', 'on')
  await expect(page.locator('[data-hold=rule]')).toHaveText('Held on by All day on, which it is not yet.')
  await make('All day off', 'off')
  await expect(page.locator('[data-hold=rule]')).toHaveText('Held on by All day on, which it is not yet.')
  await page.getByRole('link', { name: 'Act', exact: true }).click()
  await page.getByRole('button', { name: 'Before the one above: All day off' }).click()
  await expect(page.locator('[data-hold=rule]')).toHaveText('Held off by All day off.')
  const rules = page.getByRole('region', { name: /^Rules of Fogger/ })
  await expect(rules.getByRole('listitem').first()).toContainText('All day off')
})
