import {
  type LiveFrame,
  type LiveRequest,
  linkEndedCode,
  liveVersion,
  sessionEndedCode,
} from '@jaunty-sparrow/contract'
import { sharedToken } from '../api/sharedToken.ts'
import { setServerTime } from '../time/clock.ts'

/** How it stands with the line to the server. `attempt` counts the tries since it was lost. */
export type LiveStatus =
  | { readonly state: 'connecting' }
  /** `left` counts the signals beyond those that a page can hear of. */
  | { readonly state: 'live'; readonly left?: number }
  | { readonly state: 'lost'; readonly since: number; readonly nextTryAt: number }
  | { readonly state: 'ended' }
  /** The server speaks otherwise than this page, which has to be loaded again. */
  | { readonly state: 'outdated' }

const firstPause = 500
const longestPause = 15_000

/** The pause before a try: doubling, and spread by chance so that many pages do not come back at the same instant. */
export const pauseBefore = (attempt: number, chance: number): number =>
  Math.min(longestPause, firstPause * 2 ** attempt) * (0.75 + chance * 0.5)

type FrameListener = (frame: LiveFrame) => void

/** The one WebSocket of the page. It keeps who looks at what, comes back by itself, and asks for the same again. */
export class LiveConnection {
  #socket: WebSocket | undefined
  #attempt = 0
  #lostAt: number | undefined
  #timer: ReturnType<typeof setTimeout> | undefined
  #status: LiveStatus = { state: 'connecting' }
  readonly #wanted = new Map<number, number>()
  /** What the server was asked for. */
  #asked = new Set<number>()
  #isAsking = false
  #arrivalWatchers = 0
  #presenceWatchers = 0
  #looksAt: number | null = null
  readonly #frameListeners = new Set<FrameListener>()
  readonly #statusListeners = new Set<(status: LiveStatus) => void>()

  open(): void {
    if (this.#socket) return
    this.#connect()
    window.addEventListener('online', this.#tryNow)
    document.addEventListener('visibilitychange', this.#tryNow)
  }

  close(): void {
    window.removeEventListener('online', this.#tryNow)
    document.removeEventListener('visibilitychange', this.#tryNow)
    clearTimeout(this.#timer)
    const socket = this.#socket
    this.#socket = undefined
    socket?.close()
    this.#attempt = 0
    this.#lostAt = undefined
    this.#wanted.clear()
    this.#asked.clear()
    this.#setStatus({ state: 'connecting' })
  }

  onStatus(listener: (status: LiveStatus) => void): () => void {
    this.#statusListeners.add(listener)
    listener(this.#status)
    return () => this.#statusListeners.delete(listener)
  }

  onFrame(listener: FrameListener): () => void {
    this.#frameListeners.add(listener)
    return () => this.#frameListeners.delete(listener)
  }

  /**
   * Asks for signals; each is asked for once, however many look at it, and what is asked for at once goes in one request.
   * @returns a function that lets go of them
   */
  want(signals: readonly number[]): () => void {
    for (const signal of signals) this.#wanted.set(signal, (this.#wanted.get(signal) ?? 0) + 1)
    this.#askSoon()
    return () => {
      for (const signal of signals) {
        const left = (this.#wanted.get(signal) ?? 0) - 1
        if (left > 0) this.#wanted.set(signal, left)
        else this.#wanted.delete(signal)
      }
      this.#askSoon()
    }
  }

  #askSoon(): void {
    if (this.#isAsking) return
    this.#isAsking = true
    queueMicrotask(() => {
      this.#isAsking = false
      const subscribe = [...this.#wanted.keys()].filter((signal) => !this.#asked.has(signal))
      const unsubscribe = [...this.#asked].filter((signal) => !this.#wanted.has(signal))
      if (subscribe.length === 0 && unsubscribe.length === 0) return
      const isSaid = this.#say({
        ...(subscribe.length > 0 && { subscribe }),
        ...(unsubscribe.length > 0 && { unsubscribe }),
      })
      // What could not be said is asked for when the line is there.
      if (isSaid) this.#asked = new Set(this.#wanted.keys())
    })
  }

  /** Asks to be told how devices do. @returns a function that lets go of them */
  wantPresence(): () => void {
    if (this.#presenceWatchers++ === 0) this.#say({ presence: true })
    return () => {
      if (--this.#presenceWatchers === 0) this.#say({ presence: false })
    }
  }

  /** Says which device's page is open. @returns a function that says that it is no longer */
  lookAt(device: number): () => void {
    this.#looksAt = device
    this.#say({ looksAt: device })
    return () => {
      this.#looksAt = null
      this.#say({ looksAt: null })
    }
  }

  /** Asks to be told of messages as they come in. @returns a function that lets go of them */
  wantArrivals(): () => void {
    if (this.#arrivalWatchers++ === 0) this.#say({ arrivals: true })
    return () => {
      if (--this.#arrivalWatchers === 0) this.#say({ arrivals: false })
    }
  }

  #connect(): void {
    const socket = new WebSocket(
      `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/live${sharedToken ? `?link=${sharedToken}` : ''}`,
    )
    this.#socket = socket
    socket.onopen = () => {
      this.#attempt = 0
      this.#lostAt = undefined
      this.#asked = new Set(this.#wanted.keys())
      this.#say({
        subscribe: [...this.#asked],
        arrivals: this.#arrivalWatchers > 0,
        presence: this.#presenceWatchers > 0,
        ...(this.#looksAt !== null && { looksAt: this.#looksAt }),
      })
    }
    socket.onmessage = ({ data }) => {
      const frame: LiveFrame = JSON.parse(data)
      // The server was renewed since this page was loaded.
      if (frame.v !== liveVersion) return this.#setStatus({ state: 'outdated' })
      if (frame.kind === 'snapshot') {
        setServerTime(frame.now)
        if (this.#status.state !== 'live') this.#setStatus({ state: 'live' })
      }
      if (frame.kind === 'problem' && frame.problem === 'full')
        this.#setStatus({ state: 'live', left: frame.left })
      for (const listener of this.#frameListeners) listener(frame)
    }
    socket.onclose = ({ code }) => {
      if (socket !== this.#socket) return
      if (code === sessionEndedCode || code === linkEndedCode) return this.#setStatus({ state: 'ended' })
      const pause = pauseBefore(this.#attempt++, Math.random())
      this.#lostAt ??= Date.now()
      this.#setStatus({ state: 'lost', since: this.#lostAt, nextTryAt: Date.now() + pause })
      this.#timer = setTimeout(() => this.#connect(), pause)
    }
  }

  /** Coming back to the page, or the network coming back, is reason enough not to wait. */
  readonly #tryNow = (): void => {
    if (this.#status.state !== 'lost' || document.visibilityState === 'hidden') return
    if (this.#socket?.readyState === WebSocket.CONNECTING) return
    clearTimeout(this.#timer)
    this.#connect()
  }

  /** @returns whether there was a line to say it over */
  #say(request: LiveRequest): boolean {
    if (this.#socket?.readyState !== WebSocket.OPEN) return false
    this.#socket.send(JSON.stringify(request))
    return true
  }

  #setStatus(status: LiveStatus): void {
    this.#status = status
    for (const listener of this.#statusListeners) listener(status)
  }
}

export const live = new LiveConnection()
