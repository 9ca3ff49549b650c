import { type LiveFrame, type LiveRequest, sessionEndedCode } from '@jaunty-sparrow/contract'
import { setServerTime } from '../time/clock.ts'

/** How it stands with the line to the server. `attempt` counts the tries since it was lost. */
export type LiveStatus =
  | { readonly state: 'connecting' }
  | { readonly state: 'live' }
  | { readonly state: 'lost'; readonly since: number; readonly nextTryAt: number }
  | { readonly state: 'ended' }

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
  #arrivalWatchers = 0
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

  /** Asks for signals; each is asked for once, however many look at it. @returns a function that lets go of them */
  want(signals: readonly number[]): () => void {
    const fresh = signals.filter((signal) => !this.#wanted.has(signal))
    for (const signal of signals) this.#wanted.set(signal, (this.#wanted.get(signal) ?? 0) + 1)
    if (fresh.length > 0) this.#say({ subscribe: fresh })
    return () => {
      const released = signals.filter((signal) => {
        const left = (this.#wanted.get(signal) ?? 0) - 1
        if (left > 0) this.#wanted.set(signal, left)
        else this.#wanted.delete(signal)
        return left === 0
      })
      if (released.length > 0) this.#say({ unsubscribe: released })
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
    const socket = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/live`)
    this.#socket = socket
    socket.onopen = () => {
      this.#attempt = 0
      this.#lostAt = undefined
      this.#say({ subscribe: [...this.#wanted.keys()], arrivals: this.#arrivalWatchers > 0 })
    }
    socket.onmessage = ({ data }) => {
      const frame: LiveFrame = JSON.parse(data)
      if (frame.kind === 'snapshot') {
        setServerTime(frame.now)
        this.#setStatus({ state: 'live' })
      }
      for (const listener of this.#frameListeners) listener(frame)
    }
    socket.onclose = ({ code }) => {
      if (socket !== this.#socket) return
      if (code === sessionEndedCode) return this.#setStatus({ state: 'ended' })
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

  #say(request: LiveRequest): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(request))
  }

  #setStatus(status: LiveStatus): void {
    this.#status = status
    for (const listener of this.#statusListeners) listener(status)
  }
}

export const live = new LiveConnection()
