import type { IncomingMessage } from 'node:http'
import type { Duplex } from 'node:stream'
import { LiveRequest, mostSubscriptions, sessionEndedCode } from '@jaunty-sparrow/contract'
import { Ajv } from 'ajv'
import { type WebSocket, WebSocketServer } from 'ws'
import { isSameOrigin } from '../people/sameOrigin.ts'
import type { SessionKeeper } from '../people/sessionKeeper.ts'
import { LiveClient, type LiveHub } from './hub.ts'

/** How often is looked whether a page has rested long enough for its next frame. */
const flushInterval = 50
const pingInterval = 20_000

const isLiveRequest = new Ajv().compile<LiveRequest>(LiveRequest)

interface Connection {
  readonly socket: WebSocket
  readonly tokenHash: Buffer
  alive: boolean
}

/** Serves `/live`: checks the session when a page connects and as long as it stays, and hands frames to it. */
export class LiveSocketServer {
  readonly #hub: LiveHub
  readonly #sessions: SessionKeeper
  readonly #now: () => number
  readonly #server = new WebSocketServer({ noServer: true, maxPayload: 64 * 1024, perMessageDeflate: false })
  readonly #connections = new Set<Connection>()
  readonly #timers: NodeJS.Timeout[]

  constructor(hub: LiveHub, sessions: SessionKeeper, now: () => number) {
    this.#hub = hub
    this.#now = now
    this.#sessions = sessions
    this.#timers = [
      setInterval(() => hub.flush(), flushInterval),
      setInterval(() => this.#ping(), pingInterval),
    ]
    sessions.onEnded((tokenHash) => this.#end(tokenHash))
  }

  /** Answers the upgrade of a connection. */
  async upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    socket.on('error', () => socket.destroy())
    if (!isSameOrigin(request)) return refuse(socket, '403 Forbidden')
    let session: Awaited<ReturnType<SessionKeeper['find']>>
    try {
      session = await this.#sessions.find(request.headers.cookie)
    } catch {
      return refuse(socket, '503 Service Unavailable')
    }
    this.#server.handleUpgrade(request, socket, head, (webSocket) => {
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
    this.#connections.add(connection)
    this.#hub.join(client)
    socket.on('pong', () => {
      connection.alive = true
    })
    socket.on('error', () => socket.terminate())
    socket.on('close', () => {
      this.#connections.delete(connection)
      this.#hub.leave(client)
    })
    socket.on('message', (data) => {
      const request = parseRequest(String(data))
      if (!request) return socket.close(1008, 'not a request this server understands')
      if (request.arrivals !== undefined) client.watchArrivals(request.arrivals)
      if (request.unsubscribe) client.unsubscribe(request.unsubscribe)
      if (request.subscribe) {
        if (client.subscriptions.size + request.subscribe.length > mostSubscriptions)
          return socket.close(1008, 'too many subscriptions')
        client.subscribe(request.subscribe, this.#hub.latest, this.#now())
      }
    })
  }

  /** Drops who does not answer any more, and whose session has run out. */
  #ping(): void {
    for (const connection of this.#connections) {
      if (!connection.alive) connection.socket.terminate()
      connection.alive = false
      connection.socket.ping()
    }
    void this.#sessions.expired([...this.#connections].map(({ tokenHash }) => tokenHash)).then(
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
