import type { Page } from '@playwright/test'
import { openBrowser, openPage } from './browser.ts'
import { type Owner, startSparrow } from './server.ts'

const span = 10_000
const signalsOfOne = Array.from({ length: 60 }, (_, n) => `s${n}`)
const signalsOfEach = Array.from({ length: 10 }, (_, n) => `s${n}`)
const fleet = 200
/** Each device of the fleet speaks this often, ms. */
const fleetPeriod = 5000

const post = (owner: Owner, token: string, names: readonly string[], n: number): Promise<Response> =>
  fetch(`${owner.url}/in`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: JSON.stringify(Object.fromEntries(names.map((name, i) => [name, Math.sin(n / 9 + i) * 20]))),
  })

/** How busy the main thread of a page is over a while, 0..1. */
async function busy(page: Page): Promise<number> {
  const session = await page.context().newCDPSession(page)
  await session.send('Performance.enable')
  const taskSeconds = async () => {
    const { metrics } = await session.send('Performance.getMetrics')
    return metrics.find(({ name }) => name === 'TaskDuration')?.value ?? Number.NaN
  }
  await page.waitForTimeout(2000)
  const before = await taskSeconds()
  await page.waitForTimeout(span)
  return ((await taskSeconds()) - before) / (span / 1000)
}

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`

/** What it costs a page to show many signals. */
export async function watching(databaseUrl: string): Promise<string[]> {
  const { owner, ...sparrow } = await startSparrow(databaseUrl)
  const many = await owner.createDevice('many', signalsOfOne)
  const tokens: string[] = []
  for (let n = 0; n < fleet; n++) tokens.push(await owner.createDevice(`node-${n}`, signalsOfEach))
  for (const token of tokens) await post(owner, token, signalsOfEach, 0)
  await post(owner, many, signalsOfOne, 0)
  const browser = await openBrowser()
  const rows: string[] = []

  const page = await openPage(browser, owner, '/devices/many')
  await page.getByTestId('value-/s59').waitFor()
  let n = 0
  const speaking = setInterval(() => void post(owner, many, signalsOfOne, n++), 250)
  rows.push(
    `| a page with 60 signals at 4 Hz: main thread busy | ${percent(await busy(page))} | goal ≤ 15 % |`,
  )
  clearInterval(speaking)
  await page.context().close()

  const side = await openPage(browser, owner, '/settings/server')
  await side.getByRole('link', { name: 'node-199' }).waitFor()
  const still = await busy(side)
  let turn = 0
  const talking = setInterval(
    () => void post(owner, tokens[turn++ % fleet] ?? '', signalsOfEach, turn),
    fleetPeriod / fleet,
  )
  const spoken = await busy(side)
  clearInterval(talking)
  rows.push(
    `| ${fleet} devices with 2,000 signals in the side list: main thread busy while they speak, while they are still | ${percent(spoken)}, ${percent(still)} | a frame costs what it changes |`,
  )
  await browser.close()
  await sparrow.stop()
  return rows
}
