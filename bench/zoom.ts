import { openBrowser, openPage } from './browser.ts'
import { median } from './median.ts'
import { startSparrow } from './server.ts'

const span = 3000

/** Frames a second while somebody turns the wheel over a chart without a rest, and how long one took at most. */
export async function zoom(databaseUrl: string): Promise<string[]> {
  const { owner, ...sparrow } = await startSparrow(databaseUrl)
  const names = ['a', 'b', 'c', 'd']
  const token = await owner.createDevice('probe', names)
  const now = Date.now()
  const past = Array.from({ length: 8000 }, (_, n) => ({
    ...Object.fromEntries(names.map((name, i) => [name, 20 + Math.sin(n / 20 + i) + ((n * 7919) % 13) / 40])),
    t: now - (8000 - n) * 5 * 60_000,
  }))
  await fetch(`${owner.url}/in`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: JSON.stringify(past),
  })
  const browser = await openBrowser()
  const page = await openPage(browser, owner, '/devices/probe?span=month')
  await page.getByTestId('trace').first().waitFor()
  await page.waitForTimeout(2000)
  const rates: number[] = []
  let longest = 0
  for (let round = 0; round < 5; round++) {
    const frames = await page.evaluate(
      async ([length = 0, round = 0]) => {
        const chart = document.querySelector<HTMLElement>('[data-chart]')
        const plot = [...(chart?.querySelectorAll('rect') ?? [])].at(-1)
        if (!chart || !plot) throw new Error('there is no chart')
        chart.focus()
        const box = plot.getBoundingClientRect()
        const clientX = box.left + box.width * (0.3 + 0.1 * round)
        const times: number[] = []
        for (;;) {
          const at = await new Promise<number>((painted) => requestAnimationFrame(painted))
          times.push(at)
          const since = at - (times[0] ?? at)
          if (since > length) return times
          // In for half of the time, and out again.
          const deltaY = since < length / 2 ? -40 : 40
          plot.dispatchEvent(
            new WheelEvent('wheel', {
              deltaY,
              clientX,
              clientY: box.top + 40,
              bubbles: true,
              cancelable: true,
            }),
          )
        }
      },
      [span, round],
    )
    rates.push((frames.length - 1) / (((frames.at(-1) ?? 0) - (frames[0] ?? 0)) / 1000))
    longest = Math.max(longest, ...frames.slice(1).map((at, n) => at - (frames[n] ?? at)))
    await page.waitForTimeout(1000)
  }
  await browser.close()
  await sparrow.stop()
  return [
    `| frames a second while the wheel turns over one of four charts of a month | ${median(rates).toFixed(0)}, the longest frame ${longest.toFixed(0)} ms | goal ≥ 50 |`,
  ]
}
