import { type ChildProcess, fork } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import AxeBuilder from '@axe-core/playwright'
import { test as base, expect, type Page } from '@playwright/test'
import pg from 'pg'

/** One real server process on a database of its own. It can be killed and started again at the same address. */
export class Application {
  readonly databaseUrl: string
  origin = ''
  /** Where the owner is created. */
  firstRunUrl = ''
  #process: ChildProcess | undefined

  constructor(databaseUrl: string) {
    this.databaseUrl = databaseUrl
  }

  /** @param program what is started, from this folder */
  async start(program = '../server/src/main.ts'): Promise<void> {
    const main = fileURLToPath(new URL(program, import.meta.url))
    const port = this.origin === '' ? '0' : new URL(this.origin).port
    this.#process = fork(main, [], {
      execArgv: ['--import', 'tsx'],
      env: {
        ...process.env,
        NODE_OPTIONS: '',
        PORT: port,
        MQTT_PORT: '0',
        DATABASE_URL: this.databaseUrl,
        LOG_LEVEL: 'warn',
      },
    })
    const [message] = (await once(this.#process, 'message')) as [{ url: string; firstRunToken?: string }]
    this.origin = message.url
    this.firstRunUrl = `${message.url}/first-run#${message.firstRunToken ?? ''}`
  }

  /** Puts its clock forward, where it was started by one that can be. @param ms */
  forward(ms: number): void {
    this.#process?.send({ forward: ms })
  }

  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
    if (!this.#process) return
    const ended = once(this.#process, 'exit')
    this.#process.kill(signal)
    await ended
    this.#process = undefined
  }

  /** Sends readings as a board would, and expects them to be stored. */
  async send(token: string, body: object): Promise<void> {
    expect((await this.post(token, body)).status).toBe(204)
  }

  /** Sends readings as a board would. */
  post(token: string, body: object): Promise<Response> {
    return fetch(`${this.origin}/in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
      body: JSON.stringify(body),
    })
  }
}

async function emptyDatabase(name: string): Promise<string> {
  const url = new URL(process.env.TEST_DATABASE_URL ?? '')
  const client = new pg.Client({ connectionString: url.href })
  await client.connect()
  await client.query(`create database ${name}`)
  await client.end()
  url.pathname = `/${name}`
  return url.href
}

export const password = 'a gate, a goat, a bell'

/** Starts an application on an empty database. */
async function begin(): Promise<Application> {
  const application = new Application(await emptyDatabase(`e2e_${process.pid}_${begun++}`))
  await application.start()
  return application
}

/** Starts an application on an empty database whose clock can be put forward. */
export async function beginWithClock(): Promise<Application> {
  const application = new Application(await emptyDatabase(`e2e_clock_${process.pid}_${begun++}`))
  await application.start('../server/src/testing/clockServer.ts')
  return application
}

let begun = 0

/** Each test has an application of its own that nobody has visited yet; the next one starts while it runs. */
export const test = base.extend<{ application: Application }, { takeNext: () => Promise<Application> }>({
  takeNext: [
    // biome-ignore lint/correctness/noEmptyPattern: the first argument must be taken apart, even when nothing of it is used
    async ({}, use) => {
      let next: Promise<Application> | undefined
      await use(async () => {
        const ready = await (next ?? begin())
        next = begin()
        // Should it fail, the test that takes it says so.
        next.catch(() => undefined)
        return ready
      })
      await (await next)?.stop()
    },
    { scope: 'worker', timeout: 60_000 },
  ],
  application: async ({ takeNext }, use) => {
    const application = await takeNext()
    await use(application)
    await application.stop()
  },
})

/** Goes through the first run, up to a site that waits for its first device. */
export async function settleIn(page: Page, { firstRunUrl }: Application): Promise<void> {
  await page.goto(firstRunUrl)
  await page.getByLabel('Name').fill('Ines Marlow')
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Create the owner' }).click()
  await page.getByRole('button', { name: 'Add your first site' }).click()
  await page.getByLabel('Name').fill('Workshop')
  await page.getByRole('button', { name: 'Add the site' }).click()
  await expect(page.getByRole('heading', { name: 'Workshop' })).toBeVisible()
}

/** Creates a device by its name. @returns its credential, as the page shows it */
export async function createDevice(page: Page, name: string): Promise<string> {
  await page
    .getByRole('main')
    .getByRole('link', { name: /New device|Create the first device/ })
    .first()
    .click()
  await page.getByLabel('Name').fill(name)
  await page.getByRole('button', { name: 'Create the device' }).click()
  const address = await page.getByTestId('address').textContent()
  const secret = await page.getByTestId('secret').textContent()
  return `${address}.${secret}`
}

/** Makes a device of the kit for caves, with limits for its temperature. @returns its credential */
export async function caveFromKit(page: Page, { origin }: Application, name: string): Promise<string> {
  await page.goto(`${origin}/bench/kits`)
  await page.getByLabel('Begin from a kit that is ready').selectOption('Cave node')
  await page.getByLabel('Limits of Temperature').fill('low 8, high 14')
  await page.getByRole('button', { name: 'Save', exact: true }).first().click()
  await expect(page.getByText('Type into a cell')).toBeVisible()
  await page.getByRole('link', { name: 'New device of it' }).click()
  return nameDevice(page, name)
}

/** Names a new device, where a page asks for it. @returns its credential */
export async function nameDevice(page: Page, name: string): Promise<string> {
  await expect(page.getByRole('heading', { name: 'A new device' })).toBeVisible()
  await page.getByLabel('Name').fill(name)
  await page.getByRole('button', { name: 'Create the device' }).click()
  const address = await page.getByTestId('address').textContent()
  const secret = await page.getByTestId('secret').textContent()
  await page.getByRole('button', { name: 'I have kept it' }).click()
  return `${address}.${secret}`
}

/** Goes to what came in, by the way a person takes. */
export async function openArrivals(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  await page.getByRole('link', { name: 'Arrivals' }).click()
}

/** Opens one page of the settings. */
export async function openSettings(page: Page, name: string, who = 'Ines Marlow'): Promise<void> {
  await page.getByRole('button', { name: who, exact: true }).click()
  await page.getByRole('menuitem', { name: 'Settings' }).click()
  await page.getByRole('navigation', { name: 'Settings' }).getByRole('link', { name }).click()
}

/** Chooses something out of the menu of the device that is shown. */
export async function chooseForDevice(page: Page, what: string): Promise<void> {
  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: what }).click()
}

/** Nothing that keeps somebody out who reads or works differently. */
export async function expectAccessible(page: Page): Promise<void> {
  // From the top, where the header that stays in sight covers nothing.
  await page.evaluate(() => window.scrollTo(0, 0))
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .analyze()
  const found = violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html).join(' | ')}`)
  expect(found).toEqual([])
}

/** Nothing wider than the screen. */
export async function expectNoSidewaysScroll(page: Page): Promise<void> {
  expect(
    await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
  ).toBeLessThanOrEqual(0)
}

export { expect }

/** Makes a dashboard of something, and stays where it is edited. */
export async function makeDashboard(
  page: Page,
  { origin }: Application,
  from: string,
  name: string,
): Promise<string> {
  await page.goto(`${origin}/`)
  await page.getByRole('button', { name: 'Make a dashboard' }).click()
  await page.getByLabel('Begin with').selectOption({ label: from })
  await page.getByLabel('Name').fill(name)
  await page.getByRole('button', { name: 'Make it' }).click()
  await expect(page.getByLabel('Name of the dashboard')).toHaveValue(name)
  return page.url().replace('?edit=', '').replace('?edit', '')
}
