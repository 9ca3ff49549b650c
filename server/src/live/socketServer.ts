import type { IncomingMessage } from 'node:http'
import type { Duplex } from 'node:stream'
import {
  type DevicePresence,
  LiveRequest,
  mostSubscriptions,
  sessionEndedCode,
} from '@jaunty-sparrow/contract'
import type { Reading } from '@jaunty-sparrow/core/signal'
import { Ajv } from 'ajv'
import { type WebSocket, WebSocketServer } from 'ws'
import { isSameOrigin } from '../http/sameOrigin.ts'
import type { Faults } from '../life/faults.ts'
import type { SessionKeeper } from '../people/sessionKeeper.ts'
import type { LiveHub } from './hub.ts'
import { LiveClient } from './liveClient.ts'

/** How often is looked whether a page has rested long enough for its next frame. */
const flushInterval = 50
const pingInterval = 20_000

/** As many signals as a page may ask for at once fit in it. */
const largestRequest = 1024 * 1024

const isLiveRequest = new Ajv().compile<LiveRequest>(LiveRequest)

interface Connection {
  readonly socket: WebSocket
  readonly tokenHash: Buffer
  alive: boolean
}

interface LiveSocketParts {
  readonly hub: LiveHub
  readonly sessions: SessionKeeper
  /** The latest reading of a signal. */
  readonly latest: (signal: number) => Reading | undefined
  /** How all devices do. */
  readonly presences: () => readonly DevicePresence[]
  /** Epoch ms. */
  readonly now: () => number
  readonly faults: Faults
}

/** Serves `/live`: checks the session when a page connects and as long as it stays, and hands frames to it. */
export class LiveSocketServer {
  readonly #parts: LiveSocketParts
  readonly #server = new WebSocketServer({
    noServer: true,
    maxPayload: largestRequest,
    perMessageDeflate: false,
  })
  readonly #connections = new Set<Connection>()
  readonly #timers: NodeJS.Timeout[]

  constructor(parts: LiveSocketParts) {
    this.#parts = parts
    const { hub, sessions, faults } = parts
    this.#timers = [
      setInterval(
        faults.guard('the live pages', () => hub.flush()),
        flushInterval,
      ),
      setInterval(
        faults.guard('the live pages', () => this.#ping()),
        pingInterval,
      ),
    ]
    sessions.onEnded((tokenHash) => this.#end(tokenHash))
  }

  /** Answers the upgrade of a connection. */
  async upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    socket.on('error', () => socket.destroy())
    if (!isSameOrigin(request)) return refuse(socket, '403 Forbidden')
    let session: Awaited<ReturnType<SessionKeeper['find']>>
    try {
      session = await this.#parts.sessions.find(request.headers.cookie)
    } catch {
      return refuse(socket, '503 Service Unavailable')
    }
    this.#server.handleUpgrade(request, socket, head, (webSocket) => {
      // Before anything else: what a stranger sends may be no frame, and that is an error of the socket.
      webSocket.on('error', () => webSocket.terminate())
      if (session) this.#serve(webSocket, session.tokenHash)
      else webSocket.close(sessionEndedCode, 'not signed in')
    })
  }

  close(): void {
    for (const timer of this.#timers) clearInterval(timer)
    for (const { socket } of this.#connections) socket.close(1001, 'the server is stopping')
    this.#server.close()
  }

  #serve(socket: WebSocket, tokenHash: Buffer): void {
    const connection: Connection = { socket, tokenHash, alive: true }
    const client = new LiveClient({
      backlog: () => socket.bufferedAmount,
      send: (frame) => socket.send(frame),
    })
    const { hub } = this.#parts
    this.#connections.add(connection)
    hub.join(client)
    socket.on('pong', () => {
      connection.alive = true
    })
    socket.on('close', () => {
      this.#connections.delete(connection)
      hub.leave(client)
    })
    socket.on(
      'message',
      this.#parts.faults.guard('a request over /live', (data: unknown) => {
        const request = parseRequest(String(data))
        if (request) this.#answer(client, request)
        // An answer, and no hanging up: a page that is cut off would come back and say the same.
        else client.tellProblem('not-understood', 'This is no request that this server understands.')
      }),
    )
  }

  #answer(client: LiveClient, { arrivals, presence, unsubscribe, subscribe }: LiveRequest): void {
    const { hub, latest, presences, now } = this.#parts
    if (arrivals !== undefined) client.watchArrivals(arrivals)
    if (presence !== undefined) client.watchPresence(presence, presences)
    if (unsubscribe) hub.unsubscribe(client, unsubscribe)
    if (!subscribe) return
    const room = mostSubscriptions - client.subscriptions.size
    const wanted = subscribe.slice(0, room)
    hub.subscribe(
      client,
      wanted,
      wanted.flatMap((signal) => latest(signal) ?? []),
      now(),
    )
    const left = subscribe.length - room
    if (left > 0)
      client.tellProblem('full', `A page hears of ${mostSubscriptions} signals; ${left} are left out.`, left)
  }

  /** Drops who does not answer any more, and whose session has run out. */
  #ping(): void {
    for (const connection of this.#connections) {
      if (!connection.alive) connection.socket.terminate()
      connection.alive = false
      if (connection.socket.readyState === connection.socket.OPEN) connection.socket.ping()
    }
    void this.#parts.sessions.expired([...this.#connections].map(({ tokenHash }) => tokenHash)).then(
      (expired) => {
        for (const tokenHash of expired) this.#end(tokenHash)
      },
      // The database is away; the next round asks again.
      () => undefined,
    )
  }

  #end(tokenHash: Buffer): void {
    for (const connection of this.#connections) {
      if (connection.tokenHash.equals(tokenHash))
        connection.socket.close(sessionEndedCode, 'the session has ended')
    }
  }
}

function parseRequest(text: string): LiveRequest | undefined {
  try {
    const request: unknown = JSON.parse(text)
    return isLiveRequest(request) ? request : undefined
  } catch {
    return undefined
  }
}

function refuse(socket: Duplex, status: string): void {
  socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`)
}
