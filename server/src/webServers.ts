import { createServer, type IncomingMessage, type RequestListener, type Server } from 'node:http'
import { createServer as createTlsServer } from 'node:https'
import type { Duplex } from 'node:stream'
import type { Logger } from 'pino'
import type { Config } from './config.ts'
import { ConnectionLimit } from './doors/connectionLimit.ts'
import type { Faults } from './life/faults.ts'
import { listenForHttp } from './listening.ts'
import type { Certificates } from './reach/certificates.ts'

/** How long requests on their way may take when the server stops, ms. */
const patience = 3000

interface WebServerParts {
  readonly certificates: Certificates | undefined
  readonly faults: Faults
  readonly log: Logger
}

/** HTTP and, with a certificate, HTTPS: two ways to the same. */
export class WebServers {
  readonly #parts: WebServerParts
  readonly #plain = createServer()
  readonly #tls: Server | undefined

  constructor(parts: WebServerParts) {
    const { certificates } = parts
    this.#parts = parts
    if (!certificates) return
    const tls = createTlsServer(certificates.pair)
    certificates.onRenewed((pair) => tls.setSecureContext(pair))
    // Strangers who speak no TLS, or trust nobody here, are no fault of ours.
    tls.on('tlsClientError', (_, socket) => socket.destroy())
    this.#tls = tls
  }

  /** @param upgrade takes over a WebSocket connection */
  answer(
    request: RequestListener,
    upgrade: (request: IncomingMessage, socket: Duplex, head: Buffer) => unknown,
  ): void {
    const { faults } = this.#parts
    const limit = new ConnectionLimit()
    for (const server of this.#all()) {
      server.on('request', faults.guard('a request', request))
      server.on('connection', (socket) => limit.admit(socket))
      server.on(
        'upgrade',
        faults.guard('an upgrade', (asked: IncomingMessage, socket: Duplex, head: Buffer) => {
          socket.on('error', () => socket.destroy())
          return upgrade(asked, socket, head)
        }),
      )
    }
  }

  /** @returns where it listens */
  async listen({ host, port, tlsPort }: Config): Promise<{ http: URL; https: URL | undefined }> {
    const { log } = this.#parts
    const http = await listenForHttp(this.#plain, { host, port, variable: 'PORT' }, log)
    const https =
      this.#tls && (await listenForHttp(this.#tls, { host, port: tlsPort, variable: 'TLS_PORT' }, log))
    return { http, https }
  }

  /** Lets requests on their way come to their end, for a while. */
  async close(): Promise<void> {
    await Promise.all(this.#all().map(closeServer))
  }

  #all(): Server[] {
    return this.#tls ? [this.#plain, this.#tls] : [this.#plain]
  }
}

async function closeServer(server: Server): Promise<void> {
  if (!server.listening) return
  const closed = new Promise((done) => server.close(done))
  server.closeIdleConnections()
  const impatient = setTimeout(() => server.closeAllConnections(), patience)
  await closed
  clearTimeout(impatient)
}
