import { type ChildProcess, fork } from 'node:child_process'
import { once } from 'node:events'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { ApiClient, type Asked, type ResponseOf, type Route, routes } from '@jaunty-sparrow/contract'

/** A process to be measured, apart from the one that measures. */
export interface Measured {
  readonly url: string
  /** The same over TLS; empty where there is no certificate. */
  readonly secureUrl: string
  readonly mqttPort: number
  readonly coapPort: number
  /** What creates the owner. */
  readonly firstRunToken: string
  /** How long it has kept a core busy, s. */
  readonly cpuSeconds: () => number
  /** Memory that is really in use, bytes. */
  readonly residentBytes: () => number
  readonly stop: () => Promise<void>
}

/** Starts a TypeScript program that tells its address in its first message. */
export async function startProcess(path: string, env: Record<string, string> = {}): Promise<Measured> {
  const child: ChildProcess = fork(fileURLToPath(new URL(path, import.meta.url)), [], {
    execArgv: ['--import', 'tsx'],
    env: { ...process.env, LOG_LEVEL: 'warn', PORT: '0', MQTT_PORT: '0', ...env },
  })
  const [{ url, secureUrl = '', mqttPort = 0, coapPort = 0, firstRunToken = '' }] = (await once(
    child,
    'message',
  )) as [{ url: string; secureUrl?: string; mqttPort?: number; coapPort?: number; firstRunToken?: string }]
  return {
    url,
    secureUrl,
    mqttPort,
    coapPort,
    firstRunToken,
    cpuSeconds: () => {
      // Fields 14 and 15 of proc(5), in ticks of which there are a hundred a second; the name before them may hold spaces.
      const [, ...fields] = readFileSync(`/proc/${child.pid}/stat`, 'utf8').split(') ')[1]?.split(' ') ?? []
      return (Number(fields[10]) + Number(fields[11])) / 100
    },
    residentBytes: () =>
      Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1] ?? 0) * 1024,
    stop: async () => {
      const ended = once(child, 'exit')
      child.kill('SIGTERM')
      await ended
    },
  }
}

/** The owner of a fresh server, as far as the measurements need one. */
export class Owner {
  readonly url: string
  readonly #client: ApiClient

  constructor(url: string) {
    this.url = url
    this.#client = new ApiClient(url, fetch)
  }

  get cookie(): string {
    return this.#client.cookie
  }

  async call<R extends Route>(route: R, asked: Asked<R> = {}): Promise<ResponseOf<R>> {
    const { status, body } = await this.#client.ask(route, asked)
    if (status >= 400) throw new Error(`${route.method} ${route.path}: ${status} ${JSON.stringify(body)}`)
    return body
  }

  /** Creates a device whose numbers are accepted. @returns its credential */
  async createDevice(address: string, fields: readonly string[]): Promise<string> {
    const [there] = await this.call(routes.listSites)
    const site = there ?? (await this.call(routes.createSite, { body: { name: 'Bench', timeZone: 'UTC' } }))
    const kit = await this.call(routes.createKit, {
      body: {
        name: `Kit of ${address}`,
        cadence: { by: 'always', seconds: 1 },
        signals: fields.map((name) => ({ field: `/${name}`, name, kind: 'number' as const, unit: null })),
      },
    })
    const { secret } = await this.call(routes.createDevice, {
      body: { name: address, address, siteId: site.id, kitId: kit.id },
    })
    await this.call(routes.changeDevice, {
      params: { address },
      body: { messagesPerMinute: 1_000_000, readingsPerMinute: 100_000_000 },
    })
    return `${address}.${secret}`
  }
}

/** Starts the real server. */
export const startServer = (databaseUrl: string, env: Record<string, string> = {}): Promise<Measured> =>
  startProcess('../server/src/main.ts', { DATABASE_URL: databaseUrl, ...env })

/** Starts the real server on an empty database, with its owner. */
export async function startSparrow(
  databaseUrl: string,
  env: Record<string, string> = {},
): Promise<Measured & { owner: Owner }> {
  const server = await startServer(databaseUrl, env)
  const owner = new Owner(server.url)
  const { firstRunToken: token } = server
  await owner.call(routes.createOwner, { body: { name: 'Bench', password: 'a long enough one', token } })
  return { ...server, owner }
}
