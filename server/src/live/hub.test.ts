import type { LiveFrame } from '@jaunty-sparrow/contract'
import type { Reading } from '@jaunty-sparrow/core'
import { LiveClient, LiveHub } from './hub.ts'

const reading = (signal: number, at: number, value = at): Reading => ({
  signal,
  at,
  receivedAt: at,
  value,
  quality: 0,
})

function join(hub: LiveHub, backlog = () => 0) {
  const frames: LiveFrame[] = []
  const client = new LiveClient({ backlog, send: (frame) => frames.push(JSON.parse(frame)) })
  hub.join(client)
  return { client, frames }
}

let now = 0
const clock = () => now
/** Lets every page rest, then looks who has something to hear. */
const rest = (hub: LiveHub) => {
  now += 250
  hub.flush()
}

describe('LiveHub', () => {
  it('gives a snapshot first, then only what was subscribed to', () => {
    const hub = new LiveHub(clock)
    hub.load([reading(1, 10), reading(2, 20)])
    const { client, frames } = join(hub)
    client.subscribe([1, 3], hub.latest, 99)
    expect(frames).toEqual([
      { kind: 'snapshot', now: 99, signals: [{ signal: 1, readings: [[10, 10, 10, 0]], skipped: 0 }] },
    ])
    hub.readings([reading(1, 30), reading(2, 30), reading(3, 30)])
    rest(hub)
    expect(frames[1]).toMatchObject({ kind: 'readings', signals: [{ signal: 1 }, { signal: 3 }] })
    client.unsubscribe([1, 3])
    hub.readings([reading(1, 40)])
    rest(hub)
    expect(frames).toHaveLength(2)
  })

  it('tells a page that has rested at once, and puts all that came during its rest into one frame', () => {
    const hub = new LiveHub(clock)
    const { client, frames } = join(hub)
    client.subscribe([1], hub.latest, 0)
    rest(hub)
    hub.readings([reading(1, 0)])
    expect(frames).toHaveLength(2)
    for (let at = 1; at <= 40; at++) hub.readings([reading(1, at)])
    hub.flush()
    expect(frames).toHaveLength(2)
    rest(hub)
    const frame = frames[2]
    if (frame?.kind !== 'readings') throw new Error('expected readings')
    expect(frame.signals[0]?.skipped).toBe(8)
    expect(frame.signals[0]?.readings).toHaveLength(32)
    expect(frame.signals[0]?.readings.at(-1)?.[0]).toBe(40)
  })

  it('sends a slow client nothing until it has caught up, and holds no more for it than fits a frame', () => {
    const hub = new LiveHub(clock)
    let backlog = 1e6
    const { client, frames } = join(hub, () => backlog)
    client.subscribe([1], hub.latest, 0)
    for (let at = 0; at < 100_000; at++) hub.readings([reading(1, at)])
    rest(hub)
    expect(frames).toHaveLength(1)
    backlog = 0
    rest(hub)
    expect(frames[1]).toMatchObject({ signals: [{ skipped: 99_968 }] })
    expect(JSON.stringify(frames[1]).length).toBeLessThan(2000)
  })

  it('keeps the newest by the time of measurement, whatever order readings come in', () => {
    const hub = new LiveHub(clock)
    hub.readings([reading(1, 50), reading(1, 40)])
    expect(hub.latest(1)?.at).toBe(50)
  })
})
