import type { Command, LiveFrame } from '@jaunty-sparrow/contract'
import type { Reading } from '@jaunty-sparrow/core/signal'
import { LiveHub } from './hub.ts'
import { LatestReadings } from './latestReadings.ts'
import { LiveClient } from './liveClient.ts'
import type { Sight } from './sight.ts'

const everything: Sight = {
  signal: () => true,
  device: () => true,
  address: () => true,
  strangers: true,
  event: () => true,
}

const reading = (signal: number, at: number, value = at): Reading => ({
  signal,
  at,
  receivedAt: at,
  value,
  quality: 0,
})

function join(hub: LiveHub, backlog = () => 0) {
  const frames: LiveFrame[] = []
  const client = new LiveClient({ backlog, send: (frame) => frames.push(JSON.parse(frame)) }, everything)
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
    const hub = new LiveHub({ clock, outward: (reading) => reading })
    const { client, frames } = join(hub)
    hub.subscribe(client, [1, 3], [reading(1, 10)], 99)
    expect(frames).toEqual([
      { v: 1, kind: 'snapshot', now: 99, signals: [{ signal: 1, readings: [[10, 10, 10, 0]], skipped: 0 }] },
    ])
    hub.readings([reading(1, 30), reading(2, 30), reading(3, 30)])
    rest(hub)
    expect(frames[1]).toMatchObject({ kind: 'readings', signals: [{ signal: 1 }, { signal: 3 }] })
    hub.unsubscribe(client, [1, 3])
    hub.readings([reading(1, 40)])
    rest(hub)
    expect(frames).toHaveLength(2)
  })

  it('tells a page that has rested at once, and puts all that came during its rest into one frame', () => {
    const hub = new LiveHub({ clock, outward: (reading) => reading })
    const { client, frames } = join(hub)
    hub.subscribe(client, [1], [], 0)
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

  it('tells of commands at once, after what was measured meanwhile', () => {
    const hub = new LiveHub({ clock, outward: (reading) => reading })
    const { client, frames } = join(hub)
    hub.subscribe(client, [1], [], 0)
    rest(hub)
    hub.readings([reading(1, 0)])
    hub.readings([reading(1, 1)])
    expect(frames).toHaveLength(2)
    hub.commands([{ id: 5, signalId: 1, deviceId: 1, state: 'confirmed' } as Command])
    expect(frames.slice(2).map(({ kind }) => kind)).toEqual(['readings', 'commands'])
  })

  it('sends a slow client nothing until it has caught up, and holds no more for it than fits a frame', () => {
    const hub = new LiveHub({ clock, outward: (reading) => reading })
    let backlog = 1e6
    const { client, frames } = join(hub, () => backlog)
    hub.subscribe(client, [1], [], 0)
    for (let at = 0; at < 100_000; at++) hub.readings([reading(1, at)])
    rest(hub)
    expect(frames).toHaveLength(1)
    backlog = 0
    rest(hub)
    expect(frames[1]).toMatchObject({ signals: [{ skipped: 99_968 }] })
    expect(JSON.stringify(frames[1]).length).toBeLessThan(2000)
  })

  it('tells of a device once, however often it changed, and how each of its signals does last', () => {
    const hub = new LiveHub({ clock, outward: (reading) => reading })
    const { client, frames } = join(hub)
    const does = (presence: 'late' | 'silent', signals: [number, 'late' | 'silent'][]) => ({
      device: 7,
      heardAt: 5,
      presence,
      signals,
    })
    hub.presences([does('late', [[1, 'late']])])
    client.watchPresence(true, () => [
      does('late', [
        [1, 'late'],
        [2, 'late'],
      ]),
    ])
    hub.presences([does('silent', [[1, 'silent']])])
    for (let change = 0; change < 9; change++) hub.deviceChanged('milk-vat')
    hub.kitChanged(3)
    rest(hub)
    expect(frames).toEqual([
      {
        v: 1,
        kind: 'changed',
        changes: [
          { what: 'device', address: 'milk-vat' },
          { what: 'kit', kitId: 3 },
        ],
      },
      {
        v: 1,
        kind: 'presence',
        devices: [
          does('silent', [
            [1, 'silent'],
            [2, 'late'],
          ]),
        ],
      },
    ])
  })

  it('tells readings as they go out, to those only that look at them', () => {
    const hub = new LiveHub({ clock, outward: (told) => ({ ...told, value: Number(told.value) * 2 }) })
    const one = join(hub)
    const other = join(hub)
    hub.subscribe(one.client, [1], [reading(1, 5)], 0)
    hub.subscribe(other.client, [2], [], 0)
    rest(hub)
    hub.readings([reading(1, 30, 4)])
    expect(one.frames.map((frame) => 'signals' in frame && frame.signals[0]?.readings[0]?.[2])).toEqual([
      10, 8,
    ])
    expect(other.frames).toHaveLength(1)
    hub.leave(one.client)
    rest(hub)
    hub.readings([reading(1, 40)])
    expect(one.frames).toHaveLength(2)
  })
})

describe('the latest readings', () => {
  it('are the newest by the time of measurement, whatever order they come in', () => {
    const latest = new LatestReadings(clock)
    latest.take([reading(1, 50), reading(1, 40)])
    expect(latest.of(1)?.at).toBe(50)
  })

  it('keep what comes in while the store is read anew, and forget what is stored no more', async () => {
    const latest = new LatestReadings(clock)
    latest.take([reading(1, 50), reading(2, 50), reading(3, 50)])
    await latest.reread(async () => {
      latest.take([reading(1, 60)])
      return [reading(1, 50), reading(2, 40)]
    })
    expect([1, 2, 3].map((signal) => latest.of(signal)?.at)).toEqual([60, 40, undefined])
  })
})
