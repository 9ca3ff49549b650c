import { type ChildProcess, fork } from 'node:child_process'
import { once } from 'node:events'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/** A process to be measured, apart from the one that measures. */
export interface Measured {
  readonly url: string
  readonly mqttPort: number
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
  const [{ url, mqttPort = 0 }] = (await once(child, 'message')) as [{ url: string; mqttPort?: number }]
  return {
    url,
    mqttPort,
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
  cookie = ''
  #csrfToken = ''

  constructor(url: string) {
    this.url = url
  }

  async call<T>(method: string, path: string, body?: object): Promise<T> {
    const response = await fetch(this.url + path, {
      method,
      headers: { 'Content-Type': 'application/json', Cookie: this.cookie, 'X-CSRF-Token': this.#csrfToken },
      ...(body && { body: JSON.stringify(body) }),
    })
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`)
    this.cookie = response.headers.getSetCookie()[0]?.split(';', 1)[0] ?? this.cookie
    const answer = response.status === 204 ? undefined : await response.json()
    this.#csrfToken = answer?.csrfToken ?? this.#csrfToken
    return answer as T
  }

  /** Creates a device whose numbers are accepted. @returns its credential */
  async createDevice(address: string, fields: readonly string[]): Promise<string> {
    const sites = await this.call<{ id: number }[]>('GET', '/api/sites')
    const site =
      sites[0] ?? (await this.call<{ id: number }>('POST', '/api/sites', { name: 'Bench', timeZone: 'UTC' }))
    const kit = await this.call<{ id: number }>('POST', '/api/kits', {
      name: `Kit of ${address}`,
      cadenceSeconds: 1,
      signals: fields.map((name) => ({ field: `/${name}`, name, kind: 'number', unit: null })),
    })
    const made = await this.call<{ secret: string }>('POST', '/api/devices', {
      name: address,
      address,
      siteId: site.id,
      kitId: kit.id,
    })
    await this.call('PATCH', `/api/devices/${address}`, {
      messagesPerMinute: 1_000_000,
      readingsPerMinute: 100_000_000,
    })
    return `${address}.${made.secret}`
  }
}

/** Starts the real server. */
export const startServer = (databaseUrl: string): Promise<Measured> =>
  startProcess('../server/src/main.ts', { DATABASE_URL: databaseUrl })

/** Starts the real server on an empty database, with its owner. */
export async function startSparrow(databaseUrl: string): Promise<Measured & { owner: Owner }> {
  const server = await startServer(databaseUrl)
  const owner = new Owner(server.url)
  await owner.call('POST', '/api/first-run', { name: 'Bench', password: 'a long enough one' })
  return { ...server, owner }
}
