import { type Browser, chromium, type Page } from '@playwright/test'
import { median, quantile } from './median.ts'
import { type Owner, startSparrow } from './server.ts'

const rounds = 5
const samplesPerRound = 40
const fields = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h', 'i', 'j']

export const openBrowser = (): Promise<Browser> =>
  chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  })

export async function openPage(
  browser: Browser,
  owner: Owner,
  path: string,
  beforehand?: (page: Page) => Promise<void>,
): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const [name = '', value = ''] = owner.cookie.split('=')
  await context.addCookies([{ name, value, url: owner.url }])
  const page = await context.newPage()
  await beforehand?.(page)
  await page.goto(owner.url + path)
  return page
}

const send = (owner: Owner, token: string, body: object): Promise<Response> =>
  fetch(`${owner.url}/in`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: JSON.stringify(body),
  })

/** Lets boards send this many readings a second besides. @returns a function that stops them */
function load(owner: Owner, tokens: readonly string[], readingsPerSecond: number): () => void {
  let n = 0
  const timer = setInterval(
    () => {
      n++
      const token = tokens[n % tokens.length] ?? ''
      void send(owner, token, Object.fromEntries(fields.map((field, i) => [field, n + i])))
    },
    (1000 * fields.length) / readingsPerSecond,
  )
  return () => clearInterval(timer)
}

/** From the request of a device to the changed text on the page, ms. */
async function publishToPixel(page: Page, owner: Owner, token: string, samples: number): Promise<number[]> {
  const latencies: number[] = []
  for (let n = 0; n < samples; n++) {
    const value = 100 + (performance.now() % 900)
    const text = value.toFixed(1)
    const changed = page.evaluate(
      (expected) =>
        new Promise<number>((resolve) => {
          const cell = document.querySelector('[data-testid="value-/probe"]')
          if (!cell) throw new Error('the value is not on the page')
          const observer = new MutationObserver(() => {
            if (cell.textContent !== expected) return
            observer.disconnect()
            resolve(performance.timeOrigin + performance.now())
          })
          observer.observe(cell, { characterData: true, subtree: true, childList: true })
        }),
      text,
    )
    // At no fixed distance to the last one, so that no timer of the server is met in step.
    await new Promise((pause) => setTimeout(pause, 150 + ((n * 97) % 300)))
    const sentAt = performance.timeOrigin + performance.now()
    await send(owner, token, { probe: Number(text) })
    latencies.push((await changed) - sentAt)
  }
  return latencies
}

type FirstValueNoted = typeof window & { firstValueAt?: number }

/** Notes in the page itself when its first value is there: whoever asks from outside hears of it later. */
const noteFirstValue = async (page: Page): Promise<void> => {
  await page.addInitScript(() => {
    const observer = new MutationObserver(() => {
      if (!document.querySelector('main [data-value]')) return
      observer.disconnect()
      // Two frames on it is painted.
      requestAnimationFrame(() =>
        requestAnimationFrame((at) => {
          ;(window as FirstValueNoted).firstValueAt = at
        }),
      )
    })
    observer.observe(document, { childList: true, subtree: true })
  })
}

/** What a person at the screen gets to feel. */
export async function browser(databaseUrl: string): Promise<string[]> {
  const sparrow = await startSparrow(databaseUrl)
  const { owner } = sparrow
  const probe = await owner.createDevice('probe', ['probe'])
  await send(owner, probe, { probe: 1.5 })
  const boards: string[] = []
  for (let n = 0; n < 10; n++) boards.push(await owner.createDevice(`board-${n}`, fields))
  const chromiumBrowser = await openBrowser()
  const rows: string[] = []

  for (const readingsPerSecond of [100, 1000]) {
    const page = await openPage(chromiumBrowser, owner, '/devices/probe')
    await page.getByTestId('value-/probe').waitFor()
    const stop = load(owner, boards, readingsPerSecond)
    const latencies: number[] = []
    for (let round = 0; round < rounds; round++) {
      latencies.push(...(await publishToPixel(page, owner, probe, samplesPerRound)))
    }
    stop()
    await page.context().close()
    rows.push(
      `| publish to pixel at ${readingsPerSecond.toLocaleString('en')} readings/s, ${latencies.length} samples | p50 ${quantile(latencies, 0.5).toFixed(0)} ms, p99 ${quantile(latencies, 0.99).toFixed(0)} ms | |`,
    )
  }

  const starts: number[] = []
  let bytes = 0
  for (let round = 0; round < rounds; round++) {
    const page = await openPage(chromiumBrowser, owner, '/', noteFirstValue)
    const noted = await page.waitForFunction(() => (window as FirstValueNoted).firstValueAt)
    starts.push((await noted.jsonValue()) ?? Number.NaN)
    bytes = await page.evaluate(() =>
      (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
        .filter(({ name }) => name.includes('/assets/'))
        .reduce((sum, { encodedBodySize }) => sum + encodedBodySize, 0),
    )
    await page.context().close()
  }
  rows.push(
    `| start of the first page to its first live value, cold cache, loopback | ${median(starts).toFixed(0)} ms | goal ≤ 700 ms |`,
  )
  rows.push(
    `| loaded first: scripts, styles and fonts, compressed | ${Math.round(bytes / 1024)} KiB | goal ≤ 220 KiB |`,
  )
  await chromiumBrowser.close()
  await sparrow.stop()
  return rows
}
