import { type LiveFrame, routes } from '@jaunty-sparrow/contract'
import type { Page } from '@playwright/test'
import { WebSocket } from 'ws'
import { openBrowser, openPage } from './browser.ts'
import { median, quantile } from './median.ts'
import { type Owner, startSparrow } from './server.ts'

const second = 1000
const watched = 60 * second
const fields = Array.from({ length: 60 }, (_, n) => `s${n}`)
const viewers = 200
const papers = 40
const jumps = 7

const send = (owner: Owner, token: string, n: number, at?: number): Promise<Response> =>
  fetch(`${owner.url}/in`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: JSON.stringify({
      ...Object.fromEntries(fields.map((name, i) => [name, Math.round(Math.sin(n / 9 + i) * 2000) / 100])),
      ...(at !== undefined && { t: at }),
    }),
  })

/** A page of 24 instruments with 60 signals: single ones, courses in rows, and a table. */
async function makePage(owner: Owner): Promise<number> {
  const [device] = await owner.call(routes.listDevices)
  if (!device) throw new Error('there is no device')
  const refs = device.signals.map(({ id }) => ({ signal: id }))
  const single = refs.slice(0, 20).map((ref, n) => ({ kind: n % 2 ? 'scale' : 'value', signals: [ref] }))
  const courses = [20, 24, 28].map((from) => ({ kind: 'course', signals: refs.slice(from, from + 4) }))
  const instruments = [...single, ...courses, { kind: 'table', signals: refs.slice(32) }].map((each, n) => ({
    ...each,
    id: `i${n}`,
    importance: each.signals.length > 1 ? ('large' as const) : ('normal' as const),
    title: `Instrument ${n}`,
    settings: { course: { span: 'hour' } },
    unit: null,
    link: null,
  }))
  const { id } = await owner.call(routes.createDashboard, {
    body: {
      siteId: device.siteId,
      name: 'Bench',
      isMine: false,
      role: 'viewer',
      shows: { chapters: [{ id: 'c', title: 'All', repeat: null, instruments, phone: null }] },
    },
  })
  return id
}

/** How busy the main thread is over a while, 0..1, and how much its heap grows meanwhile, bytes. */
async function watch(page: Page): Promise<{ share: number; growth: number }> {
  const session = await page.context().newCDPSession(page)
  await session.send('Performance.enable')
  const metrics = async () => {
    await session.send('HeapProfiler.collectGarbage')
    const { metrics: told } = await session.send('Performance.getMetrics')
    const of = (wanted: string) => told.find(({ name }) => name === wanted)?.value ?? Number.NaN
    return { tasks: of('TaskDuration'), heap: of('JSHeapUsedSize') }
  }
  const before = await metrics()
  await page.waitForTimeout(watched)
  const after = await metrics()
  return { share: (after.tasks - before.tasks) / (watched / second), growth: after.heap - before.heap }
}

interface Drawn {
  readonly html: string
  readonly sheets: readonly string[]
}

/** What a page has drawn, as it stands in the document. */
const drawnOn = (page: Page): Promise<Drawn> =>
  page.evaluate(() => ({
    html: document.querySelector('main')?.outerHTML ?? '',
    sheets: [...document.styleSheets].flatMap(({ href }) => href ?? []),
  }))

/** The same drawings in a page without a framework: texts, marks and lines set straight from the same frames. */
const bare = (page: Page, signals: readonly number[], { html, sheets }: Drawn): Promise<void> =>
  page.evaluate(
    ({ wanted, html, sheets }) => {
      for (const href of sheets) {
        const link = document.createElement('link')
        link.rel = 'stylesheet'
        link.href = href
        document.head.append(link)
      }
      document.body.innerHTML = html
      const drawn = new Map(
        wanted.map((signal) => {
          const texts = [...document.querySelectorAll(`[data-value="${signal}"]`)]
          const marks = texts.flatMap((text) => text.closest('svg')?.querySelector('[data-beak="now"]') ?? [])
          return [signal, { texts, marks }] as const
        }),
      )
      const lines = [...document.querySelectorAll('path[data-trace]')].map((path) => ({
        path,
        d: path.getAttribute('d') ?? '',
      }))
      let frames = 0
      const socket = new WebSocket(`${location.origin.replace('http', 'ws')}/live`)
      socket.onopen = () => socket.send(JSON.stringify({ subscribe: wanted }))
      socket.onmessage = ({ data }) => {
        const { signals = [] } = JSON.parse(String(data))
        for (const { signal, readings } of signals) {
          const value = readings.at(-1)?.[2]
          if (typeof value !== 'number') continue
          for (const text of drawn.get(signal)?.texts ?? []) text.textContent = value.toFixed(1)
          for (const mark of drawn.get(signal)?.marks ?? [])
            mark.setAttribute('transform', `translate(${(100 + value * 4).toFixed(1)} 18)`)
        }
        // As seldom as the page makes its lines anew.
        if (signals.length > 0 && ++frames % 15 === 0)
          for (const { path, d } of lines) path.setAttribute('d', `${d}V${10 + (frames % 7)}`)
      }
    },
    { wanted: signals, html, sheets },
  )

/** How long from a key on the strip until everything is drawn as it was, ms. */
const jump = (page: Page): Promise<number> =>
  page.evaluate(async () => {
    const strip = document.querySelector<HTMLElement>('[role="slider"]')
    if (!strip) throw new Error('there is no strip')
    const frame = () => new Promise((done) => requestAnimationFrame(done))
    let open = 0
    let asked = 0
    const original = window.fetch
    window.fetch = async (...args) => {
      open++
      asked++
      try {
        return await original(...args)
      } finally {
        open--
      }
    }
    const press = (key: string) => strip.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
    press('ArrowLeft')
    await frame()
    const before = document.querySelector('[data-past]')?.getAttribute('data-past')
    const from = performance.now()
    press('Enter')
    const isThere = () => {
      const now = document.querySelector('[data-past]')?.getAttribute('data-past')
      return now !== undefined && now !== null && now !== before && asked > 0 && open === 0
    }
    while (!isThere()) await frame()
    await frame()
    window.fetch = original
    return performance.now() - from
  })

/** What a dashboard costs: the page that shows it, the server that many look at it from, and its picture on paper. */
export async function dashboards(databaseUrl: string): Promise<string[]> {
  const { owner, ...sparrow } = await startSparrow(databaseUrl)
  const token = await owner.createDevice('many', fields)
  const started = Date.now()
  for (let n = 0; n < 120; n++) await send(owner, token, n, started - (120 - n) * 20 * second)
  const id = await makePage(owner)
  const [device] = await owner.call(routes.listDevices)
  const signals = device?.signals.map((signal) => signal.id) ?? []
  let n = 0
  const speaking = setInterval(() => void send(owner, token, n++), second)
  const browser = await openBrowser()
  const rows: string[] = []

  const loads: number[] = []
  for (let round = 0; round < 5; round++) {
    const page = await openPage(browser, owner, `/dashboards/${id}`)
    const shown = await page.waitForFunction(() => {
      const values = document.querySelectorAll('main [data-value]')
      return (
        values.length >= 60 &&
        [...values].every(({ textContent }) => textContent !== '—') &&
        performance.now()
      )
    })
    loads.push(Number(await shown.jsonValue()))
    await page.context().close()
  }
  rows.push(
    `| 24 instruments with 60 signals: start of the page to all values, cold cache | ${median(loads).toFixed(0)} ms | |`,
  )

  const page = await openPage(browser, owner, `/dashboards/${id}`, async (fresh) => {
    // What compiles this file names functions by a helper, which a page does not have.
    await fresh.addInitScript('window.__name = (named) => named')
    await fresh.addInitScript(() => {
      const told = window as typeof window & { long?: number[] }
      told.long = []
      new PerformanceObserver((list) => {
        for (const { startTime, duration } of list.getEntries())
          if (startTime > 5000) told.long?.push(duration)
      }).observe({ type: 'longtask' })
    })
  })
  await page.waitForTimeout(8000)
  const ours = await watch(page)
  const long = await page.evaluate(() => (window as typeof window & { long?: number[] }).long ?? [])
  const drawn = await drawnOn(page)
  const past: number[] = []
  for (let round = 0; round < jumps; round++) past.push(await jump(page))
  await page.context().close()
  const plain = await openPage(browser, owner, '/healthz')
  await bare(plain, signals, drawn)
  await plain.waitForTimeout(3000)
  const straight = await watch(plain)
  await plain.context().close()
  const percent = (share: number) => `${(share * 100).toFixed(1)} %`
  rows.push(
    `| the same at 1 Hz for a minute: main thread busy, ÷ bare SVG set straight from the frames | ${percent(ours.share)} ÷ ${percent(straight.share)} = ${(ours.share / straight.share).toFixed(2)} | goal ≤ 1.5 |`,
    `| … long tasks over 50 ms after the load | ${long.length}${long.length ? `, longest ${Math.max(...long).toFixed(0)} ms` : ''} | goal none |`,
    `| … growth of the heap in that minute, after collection | ${(ours.growth / 1024).toFixed(0)} KiB (bare: ${(straight.growth / 1024).toFixed(0)}) | goal none |`,
    `| jump to a moment of the past until all is drawn, median of ${jumps} | ${median(past).toFixed(0)} ms | goal ≤ 400 ms |`,
  )
  await browser.close()

  const ages: number[] = []
  const sockets = Array.from({ length: viewers }, () => {
    const socket = new WebSocket(`${owner.url.replace('http', 'ws')}/live`, {
      headers: { Cookie: owner.cookie, Origin: owner.url },
    })
    socket.on('open', () => socket.send(JSON.stringify({ subscribe: signals })))
    socket.on('message', (data: Buffer) => {
      const frame: LiveFrame = JSON.parse(data.toString())
      if (frame.kind !== 'readings') return
      const received = frame.signals.flatMap(({ readings }) => readings.map(([, at]) => at))
      ages.push(Date.now() - Math.max(...received))
    })
    return socket
  })
  await new Promise((settled) => setTimeout(settled, 3 * second))
  ages.length = 0
  const before = sparrow.cpuSeconds()
  await new Promise((over) => setTimeout(over, 20 * second))
  rows.push(
    `| ${viewers} viewers of 60 signals at 1 Hz: share of a core of the server, p99 from stored to heard | ${percent((sparrow.cpuSeconds() - before) / 20)}, ${quantile(ages, 0.99).toFixed(0)} ms | goal ≤ 300 ms |`,
  )
  for (const socket of sockets) socket.terminate()
  clearInterval(speaking)

  const { token: link } = await owner.call(routes.createDashboardLink, {
    params: { dashboardId: id },
    body: { name: 'Paper', instrumentId: null, past: 'day', frameAncestors: [], expiresAt: null },
  })
  const took: number[] = []
  for (let round = 0; round < papers; round++) {
    const from = performance.now()
    const { status } = await fetch(`${owner.url}/api/shared/${link}/paper.png?width=400&height=300&greys=2`)
    if (status !== 200) throw new Error(`the picture was answered ${status}`)
    took.push(performance.now() - from)
  }
  rows.push(
    `| paper.png of it, 400 × 300 in black and white: median, p95 | ${median(took).toFixed(0)} ms, ${quantile(took, 0.95).toFixed(0)} ms | goal p95 ≤ 150 ms |`,
  )
  await sparrow.stop()
  return rows
}
