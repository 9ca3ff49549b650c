import { once } from 'node:events'
import type { LiveFrame, LiveRequest } from '@jaunty-sparrow/contract'
import { WebSocket } from 'ws'

/** A page's line to the server, so that a test can wait for what it tells instead of asking again and again. */
export class LiveLine {
  readonly #socket: WebSocket
  readonly #frames: LiveFrame[] = []
  readonly #waiting = new Set<() => void>()

  private constructor(socket: WebSocket) {
    this.#socket = socket
    socket.on('message', (data) => {
      this.#frames.push(JSON.parse(String(data)))
      for (const look of this.#waiting) look()
    })
  }

  /** @param request what the page asks for */
  static async open(origin: string, cookie: string, request: LiveRequest): Promise<LiveLine> {
    const socket = new WebSocket(`${origin.replace('http', 'ws')}/live`, {
      headers: { Cookie: cookie, Origin: origin },
    })
    const line = new LiveLine(socket)
    await once(socket, 'open')
    socket.send(JSON.stringify(request))
    return line
  }

  /** What was found in the first frame that holds it, heard already or to come. */
  hear<T>(find: (frame: LiveFrame) => T | undefined): Promise<T> {
    return new Promise((resolve, reject) => {
      let seen = 0
      const closed = () => reject(new Error('the line was closed before it told what was awaited'))
      const look = () => {
        for (; seen < this.#frames.length; seen++) {
          const frame = this.#frames[seen]
          const found = frame && find(frame)
          if (found === undefined) continue
          this.#waiting.delete(look)
          this.#socket.off('close', closed)
          return resolve(found)
        }
      }
      this.#waiting.add(look)
      this.#socket.once('close', closed)
      look()
    })
  }

  /** Resolves when so many frames were heard. */
  count(wanted: number): Promise<void> {
    return this.hear(() => (this.#frames.length >= wanted ? true : undefined)).then(() => undefined)
  }

  close(): void {
    this.#waiting.clear()
    this.#socket.terminate()
  }
}
