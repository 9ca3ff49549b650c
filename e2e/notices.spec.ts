import { EventEmitter, once } from 'node:events'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import {
  type Application,
  beginWithClock,
  caveFromKit,
  expect,
  expectAccessible,
  expectNoSidewaysScroll,
  makeDashboard,
  settleIn,
  test,
} from './application.ts'

interface Called {
  readonly path: string
  readonly kind: string
  readonly says: string
  readonly answerAt: string | null
}

/** What is called in place of somebody's program. */
class Hook {
  readonly calls: Called[] = []
  readonly #events = new EventEmitter()
  readonly #server: Server = createServer(async (request, response) => {
    let body = ''
    for await (const piece of request) body += piece
    this.calls.push({ path: request.url ?? '', ...JSON.parse(body) })
    response.writeHead(204).end()
    this.#events.emit('call')
  })
  url = ''

  async open(): Promise<this> {
    this.#server.listen(0, '127.0.0.1')
    await once(this.#server, 'listening')
    this.url = `http://127.0.0.1:${(this.#server.address() as AddressInfo).port}`
    return this
  }

  /** Waits until it was called so. */
  async called(fits: (call: Called) => boolean): Promise<Called> {
    for (;;) {
      const found = this.calls.find(fits)
      if (found) return found
      await once(this.#events, 'call')
    }
  }

  close(): void {
    this.#server.close()
    this.#server.closeAllConnections()
  }
}

const values = { temperature: 11, humidity: 94, co2: 800, nh3: 3, fogger: false, fan: false }

let application: Application
let hook: Hook
test.beforeEach(async () => {
  application = await beginWithClock()
  hook = await new Hook().open()
})
test.afterEach(async () => {
  hook.close()
  await application.stop()
})

test('somebody is told, somebody else when nobody answers, and it is answered by the link', async ({
  page,
  browser,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  await page.goto(`${application.origin}/devices/first-cave`)
  await page
    .getByRole('region', { name: 'Fan', exact: true })
    .getByRole('link', { name: 'New alarm' })
    .click()
  await page.getByRole('group', { name: 'It is raised when' }).getByLabel('for at least').selectOption('0')
  await page.getByLabel('What to do').fill('Switch it off')
  await page.getByRole('button', { name: 'Make the alarm' }).click()
  await expect(page.getByRole('heading', { name: 'Fan: on', level: 1 })).toBeVisible()

  await page.getByRole('link', { name: 'Alarms', exact: true }).click()
  await page.getByRole('link', { name: 'Who is told' }).click()
  await expect(page.getByText('Nobody yet')).toBeVisible()
  await expectAccessible(page)
  const tell = async (name: string, path: string, told?: string) => {
    await page.getByRole('button', { name: 'Tell somebody' }).click()
    const sheet = page.getByRole('dialog')
    await sheet.getByLabel('Name').fill(name)
    await sheet.getByLabel('By', { exact: true }).selectOption('webhook')
    await sheet.getByLabel('Address of the webhook').fill(`${hook.url}${path}`)
    // Its clock is put forward, which is an alarm of the server: of that nobody is told here.
    await sheet.getByLabel('Of alarms at').selectOption('Workshop')
    if (told !== undefined) await sheet.getByLabel('Told', { exact: true }).selectOption(told)
    await expectAccessible(page)
    await sheet.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByTestId('secret')).toBeVisible()
    await page.getByRole('button', { name: 'Done' }).click()
    await expect(sheet).toBeHidden()
  }
  await tell('Moira', '/moira')
  await tell('Tobias', '/tobias', '900')
  const tobias = page.getByRole('listitem').filter({ hasText: 'Tobias' }).first()
  await expect(tobias).toContainText('what is urgent or important, when nobody has seen it for 15 min')
  await expectNoSidewaysScroll(page)
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Moira' })
    .first()
    .getByRole('button', { name: 'Send a test' })
    .click()
  expect(await hook.called(({ kind }) => kind === 'test')).toMatchObject({ path: '/moira' })

  await application.send(token, { ...values, fan: true })
  await expect(page.locator('[data-alarm-count="1"]').locator('visible=true')).toBeVisible()
  await expect(async () => {
    // It gathers until its time has come, whenever that began.
    application.forward(6000)
    await page.waitForResponse(/api\/notices|api\/ways/, { timeout: 3000 })
  }).toPass()
  const first = await hook.called(({ kind }) => kind === 'alarm')
  expect(first).toMatchObject({ path: '/moira', says: 'Fan, First cave: on' })
  expect(hook.calls.some(({ path }) => path === '/tobias')).toBe(false)
  application.forward(15 * 60_000)
  await page.getByRole('link', { name: 'What was sent' }).click()
  await expect(page.locator('[data-notice=gathers]')).toContainText('to Tobias')
  application.forward(6000)
  const second = await hook.called(({ path }) => path === '/tobias')
  expect(second.says).toBe('Fan, First cave: on')
  await expect(page.locator('[data-notice=sent]')).toHaveCount(3)
  await expectAccessible(page)
  await expectNoSidewaysScroll(page)

  // Tobias has no account here, and a phone in his hand.
  const stranger = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const phone = await stranger.newPage()
  const link = `${application.origin}/seen${new URL(second.answerAt ?? '').hash}`
  await phone.goto(link)
  await expect(phone.getByRole('heading', { name: 'An alarm' })).toBeVisible()
  await expect(phone.getByText('What to do: Switch it off')).toBeVisible()
  await expectAccessible(phone)
  await expectNoSidewaysScroll(phone)
  await phone.getByLabel('A word for the others').fill('going there')
  await phone.getByRole('button', { name: 'I see to it' }).click()
  await expect(phone.getByText('Thank you: the others know that you see to it.')).toBeVisible()
  await phone.reload()
  await expect(phone.getByText('it works once')).toBeVisible()
  await stranger.close()
  await page.getByRole('link', { name: 'Alarms', exact: true }).click()
  await expect(page.locator('[data-alarm]')).toContainText('Tobias: going there')
})

test('the buzzer of a board and the walls of a site are tried', { tag: '@desk' }, async ({
  page,
  context,
}) => {
  await settleIn(page, application)
  const token = await caveFromKit(page, application, 'First cave')
  await application.send(token, values)
  const guardOf = async () => {
    const answer = await fetch(`${application.origin}/in?limits`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
      body: JSON.stringify(values),
    })
    return ((await answer.json()) as { guard: { alarm: string | null } }).guard.alarm
  }
  await page.goto(`${application.origin}/guard/told`)
  expect(await guardOf()).toBeNull()
  await page.getByLabel('Buzzer of').selectOption('First cave')
  await page.getByRole('button', { name: 'Sound it' }).click()
  await expect(page.getByText('It sounds for a minute')).toBeVisible()
  expect(await guardOf()).toBe('minor')

  const dashboard = await makeDashboard(page, application, 'First cave', 'One cave')
  const wall = await context.newPage()
  await wall.goto(dashboard.replace('/dashboards/', '/wall/'))
  await expect(wall.locator('[data-value]').first()).toBeVisible()
  await page.goto(`${application.origin}/guard/told`)
  await page.getByRole('button', { name: 'Hang a test' }).click()
  await expect(wall.getByText('This is a test')).toBeVisible()
  await expectAccessible(wall)
  await expectAccessible(page)
  application.forward(80_000)
  await expect(wall.getByText('This is a test')).toBeHidden()
  expect(await guardOf()).toBeNull()
})

test('a browser shows what it is pushed, also while nobody looks at a page', { tag: '@desk' }, async ({
  page,
  context,
}) => {
  await context.grantPermissions(['notifications'], { origin: application.origin })
  await settleIn(page, application)
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined))
  const session = await context.newCDPSession(page)
  const registered = new Promise<string>((resolve) => {
    session.on('ServiceWorker.workerRegistrationUpdated', ({ registrations }) => {
      const [found] = registrations
      if (found) resolve(found.registrationId)
    })
  })
  await session.send('ServiceWorker.enable')
  const registrationId = await registered
  const data = JSON.stringify({
    title: 'Urgent: Humidity, Cave 1: too low',
    body: 'Close the door',
    link: '/guard',
  })
  await session.send('ServiceWorker.deliverPushMessage', { origin: application.origin, registrationId, data })
  await expect
    .poll(() =>
      page.evaluate(async () => {
        const registration = await navigator.serviceWorker.ready
        return (await registration.getNotifications()).map(({ title, body }) => [title, body])
      }),
    )
    .toEqual([['Urgent: Humidity, Cave 1: too low', 'Close the door']])
})
