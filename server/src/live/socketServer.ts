import type { IncomingMessage } from 'node:http'
import type { Duplex } from 'node:stream'
import {
  type DevicePresence,
  LiveRequest,
  linkEndedCode,
  mostSubscriptions,
  sessionEndedCode,
} from '@jaunty-sparrow/contract'
import type { Access } from '@jaunty-sparrow/core/access'
import type { Reading } from '@jaunty-sparrow/core/signal'
import { Ajv } from 'ajv'
import isEqual from 'lodash-es/isEqual.js'
import { type WebSocket, WebSocketServer } from 'ws'
import { ProblemError } from '../http/problemResponse.ts'
import { isSameOrigin } from '../http/sameOrigin.ts'
import type { Faults } from '../life/faults.ts'
import type { SessionKeeper } from '../people/sessionKeeper.ts'
import type { OpenLink, ShareLinks } from '../share/shareLinks.ts'
import { whyStoreAway } from '../store/databaseError.ts'
import type { LiveHub } from './hub.ts'
import { LiveClient } from './liveClient.ts'
import { Lookers } from './lookers.ts'
import { type SitesOf, sightOf, sightOfLink } from './sight.ts'

/** How often is looked whether a page has rested long enough for its next frame. */
const flushInterval = 50
const pingInterval = 20_000

/** As many signals as a page may ask for at once fit in it. */
const largestRequest = 1024 * 1024

const isLiveRequest = new Ajv().compile<LiveRequest>(LiveRequest)

/** By what somebody came in: it is asked again whether it still holds. */
type Ticket =
  | { readonly by: 'session'; readonly tokenHash: Buffer; readonly access: Access }
  | { readonly by: 'link'; readonly link: OpenLink }

interface Connection {
  readonly socket: WebSocket
  readonly client: LiveClient
  readonly ticket: Ticket
  alive: boolean
}

interface LiveSocketParts {
  readonly hub: LiveHub
  readonly sessions: SessionKeeper
  readonly links: ShareLinks
  readonly sites: SitesOf
  /** The latest reading of a signal. */
  readonly latest: (signal: number) => Reading | undefined
  /** How all devices do. */
  readonly presences: () => readonly DevicePresence[]
  /** Epoch ms. */
  readonly now: () => number
  readonly faults: Faults
  /** Where a request comes from. */
  readonly ipOf: (request: IncomingMessage) => string
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
  readonly #lookers = new Lookers()
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
    sessions.onEnded((tokenHashes) => this.#endSessions(tokenHashes))
  }

  /** Answers the upgrade of a connection. */
  async upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    socket.on('error', () => socket.destroy())
    if (!isSameOrigin(request)) return refuse(socket, '403 Forbidden')
    const token = linkTokenOf(request)
    let ticket: Ticket | undefined
    try {
      ticket = token === undefined ? await this.#bySession(request) : await this.#byLink(token, request)
    } catch (error) {
      return refuse(
        socket,
        error instanceof ProblemError ? '429 Too Many Requests' : '503 Service Unavailable',
      )
    }
    this.#server.handleUpgrade(request, socket, head, (webSocket) => {
      // Before anything else: what a stranger sends may be no frame, and that is an error of the socket.
      webSocket.on('error', () => webSocket.terminate())
      if (ticket) this.#serve(webSocket, ticket)
      else if (token === undefined) webSocket.close(sessionEndedCode, 'not signed in')
      else webSocket.close(linkEndedCode, 'this link shows nothing any more')
    })
  }

  async #bySession({ headers }: IncomingMessage): Promise<Ticket | undefined> {
    const session = await this.#parts.sessions.find(headers.cookie)
    return session && { by: 'session', tokenHash: session.tokenHash, access: session.access }
  }

  async #byLink(token: string, request: IncomingMessage): Promise<Ticket | undefined> {
    this.#parts.links.admit(this.#parts.ipOf(request))
    const link = await this.#parts.links.open(token)
    return link && { by: 'link', link }
  }

  /** How many look on by a link. */
  lookingOn(linkId: number): number {
    let count = 0
    for (const { ticket } of this.#connections) if (ticket.by === 'link' && ticket.link.id === linkId) count++
    return count
  }

  close(): void {
    for (const timer of this.#timers) clearInterval(timer)
    for (const { socket } of this.#connections) socket.close(1001, 'the server is stopping')
    this.#server.close()
  }

  #serve(socket: WebSocket, ticket: Ticket): void {
    const sight =
      ticket.by === 'session' ? sightOf(ticket.access, this.#parts.sites) : sightOfLink(ticket.link.signals)
    const client = new LiveClient(
      {
        backlog: () => socket.bufferedAmount,
        send: (frame) => socket.send(frame),
      },
      sight,
    )
    const connection: Connection = { socket, client, ticket, alive: true }
    const { hub } = this.#parts
    this.#connections.add(connection)
    hub.join(client)
    if (ticket.by === 'link') this.#lookers.look(client, ticket.link.deviceId, true)
    socket.on('pong', () => {
      connection.alive = true
    })
    socket.on('close', () => {
      this.#connections.delete(connection)
      hub.leave(client)
      this.#lookers.leave(client)
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

  #answer(client: LiveClient, { arrivals, presence, looksAt, unsubscribe, subscribe }: LiveRequest): void {
    const { hub, latest, presences, now } = this.#parts
    if (arrivals !== undefined) client.watchArrivals(arrivals)
    if (presence !== undefined) client.watchPresence(presence, presences)
    if (looksAt !== undefined && (looksAt === null || client.sight.device(looksAt)))
      this.#lookers.look(client, looksAt, false)
    if (unsubscribe) hub.unsubscribe(client, unsubscribe)
    if (!subscribe) return
    const room = mostSubscriptions - client.subscriptions.size
    const wanted = subscribe.slice(0, room).filter((signal) => client.sight.signal(signal))
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
    this.lookAgain()
  }

  /** Asks again what everybody may, and lets go of those who may otherwise: their pages come back by themselves. */
  lookAgain(): void {
    this.#parts.hub.dropUnseen()
    this.#parts.faults.watch('who looks on', this.#lookAgain())
  }

  async #lookAgain(): Promise<void> {
    const { sessions, links } = this.#parts
    const connections = [...this.#connections]
    const held = connections.flatMap(({ ticket }) => (ticket.by === 'session' ? [ticket.tokenHash] : []))
    const shown = connections.flatMap(({ ticket }) => (ticket.by === 'link' ? [ticket.link] : []))
    try {
      const accessOf = new Map(
        (await sessions.alive(held)).map(({ tokenHash, access }) => [tokenHash.toString('hex'), access]),
      )
      const alive = await links.alive(shown)
      for (const { socket, ticket } of connections) {
        if (ticket.by === 'link') {
          if (!alive.has(ticket.link.id)) socket.close(linkEndedCode, 'this link shows nothing any more')
          continue
        }
        const access = accessOf.get(ticket.tokenHash.toString('hex'))
        if (!access) socket.close(sessionEndedCode, 'the session has ended')
        else if (!isEqual(access, ticket.access)) socket.close(1012, 'what you may has changed')
      }
    } catch (error) {
      // While the database is away nobody knows better; the next round asks again.
      if (!whyStoreAway(error)) throw error
    }
  }

  #endSessions(tokenHashes: readonly Buffer[]): void {
    for (const { ticket, socket } of this.#connections) {
      if (ticket.by === 'session' && tokenHashes.some((hash) => hash.equals(ticket.tokenHash)))
        socket.close(sessionEndedCode, 'the session has ended')
    }
  }
}

/** The token of a link by which a stranger looks on. */
function linkTokenOf({ url = '' }: IncomingMessage): string | undefined {
  return new URLSearchParams(url.split('?', 2)[1] ?? '').get('link') ?? undefined
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
