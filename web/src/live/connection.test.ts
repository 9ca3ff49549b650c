import type { LiveFrame, LiveRequest } from '@jaunty-sparrow/contract'
import { jest } from '@jest/globals'
import { LiveConnection, type LiveStatus, pauseBefore } from './connection.ts'

/** The browser's side of a line that the test holds the other end of. */
class Line {
  static readonly OPEN = 1
  static readonly CONNECTING = 0
  static lines: Line[] = []
  readyState = 0
  onopen = () => undefined
  onmessage = (_: { data: string }): void => undefined
  onclose = (_: { code: number }): void => undefined
  readonly said: LiveRequest[] = []

  constructor() {
    Line.lines.push(this)
  }

  send(text: string): void {
    this.said.push(JSON.parse(text))
  }

  close(code = 1000): void {
    this.readyState = 3
    this.onclose({ code })
  }

  /** The server takes the line, and gives its snapshot. */
  accept(): void {
    this.readyState = 1
    this.onopen()
    this.frame({ v: 1, kind: 'snapshot', now: Date.now(), signals: [] })
  }

  frame(frame: LiveFrame): void {
    this.onmessage({ data: JSON.stringify(frame) })
  }
}

const listeners: Record<string, () => void> = {}
const page = {
  addEventListener: (name: string, listener: () => void) => {
    listeners[name] = listener
  },
  removeEventListener: () => undefined,
  visibilityState: 'visible',
}

let connection: LiveConnection
let statuses: LiveStatus['state'][]
beforeEach(() => {
  jest.useFakeTimers({ doNotFake: ['queueMicrotask'] })
  Line.lines = []
  Object.assign(globalThis, {
    WebSocket: Line,
    window: page,
    document: page,
    location: { protocol: 'http:', host: 'here' },
  })
  connection = new LiveConnection()
  statuses = []
  connection.onStatus(({ state }) => statuses.push(state))
})
afterEach(() => {
  connection.close()
  jest.useRealTimers()
})

const newest = (): Line => Line.lines.at(-1) as Line

describe('pauseBefore', () => {
  it('doubles up to a bound, spread by a quarter to either side', () => {
    expect([0, 1, 2, 20].map((attempt) => pauseBefore(attempt, 0.5))).toEqual([500, 1000, 2000, 15_000])
    expect(pauseBefore(20, 0)).toBe(11_250)
    expect(pauseBefore(20, 1)).toBe(18_750)
  })
})

describe('LiveConnection', () => {
  it('is live from the first snapshot on, not before', () => {
    connection.open()
    expect(statuses).toEqual(['connecting'])
    newest().accept()
    expect(statuses).toEqual(['connecting', 'live'])
  })

  it('asks for each signal once, however many look at it, all at once, and lets go of it with the last', async () => {
    connection.open()
    newest().accept()
    const first = connection.want([1, 2])
    const second = connection.want([2, 3])
    await Promise.resolve()
    first()
    await Promise.resolve()
    second()
    connection.want([4])
    await Promise.resolve()
    expect(newest().said.slice(1)).toEqual([
      { subscribe: [1, 2, 3] },
      { unsubscribe: [1] },
      { subscribe: [4], unsubscribe: [2, 3] },
    ])
  })

  it('says that it has to be loaded again when the server speaks otherwise', () => {
    connection.open()
    newest().accept()
    newest().frame({ v: 2 as 1, kind: 'changed', changes: [] })
    expect(statuses.at(-1)).toBe('outdated')
  })

  it('comes back by itself, and asks for the same again', () => {
    connection.open()
    connection.want([7])
    connection.wantArrivals()
    newest().accept()
    newest().close(1006)
    expect(statuses.at(-1)).toBe('lost')
    jest.advanceTimersByTime(1000)
    expect(Line.lines).toHaveLength(2)
    newest().accept()
    expect(newest().said[0]).toEqual({ subscribe: [7], arrivals: true, presence: false })
    expect(statuses.at(-1)).toBe('live')
  })

  it('rests longer with each try in vain, and not at all when the network comes back', () => {
    connection.open()
    for (const rest of [700, 1300, 2600]) {
      newest().close(1006)
      jest.advanceTimersByTime(rest)
    }
    expect(Line.lines).toHaveLength(4)
    newest().close(1006)
    listeners.online?.()
    expect(Line.lines).toHaveLength(5)
  })

  it('does not come back when the session has ended', () => {
    connection.open()
    newest().accept()
    newest().close(4401)
    jest.advanceTimersByTime(60_000)
    expect(statuses.at(-1)).toBe('ended')
    expect(Line.lines).toHaveLength(1)
  })

  it('hands frames on', () => {
    const frames: LiveFrame[] = []
    connection.onFrame((frame) => frames.push(frame))
    connection.open()
    newest().accept()
    newest().frame({ v: 1, kind: 'changed', changes: [{ what: 'devices' }] })
    expect(frames.map(({ kind }) => kind)).toEqual(['snapshot', 'changed'])
  })
})
