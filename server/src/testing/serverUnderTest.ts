import {
  type Arrival,
  type BodyOf,
  openApiDocument,
  type ParamsOf,
  type Problem,
  pathTo,
  type ResponseOf,
  type Route,
  routes,
} from '@jaunty-sparrow/contract'
import { writeCredential } from '@jaunty-sparrow/core'
import { Ajv } from 'ajv'
import addFormats from 'ajv-formats'
import pg from 'pg'
import { isTimeZone } from '../api/timeZone.ts'
import type { Config } from '../config.ts'
import { startServer } from '../server.ts'

const ajv = new Ajv({ strict: false })
addFormats.default(ajv)
ajv.addFormat('time-zone', isTimeZone)
const problemSchema = (openApiDocument() as { components: { schemas: { Problem: object } } }).components
  .schemas.Problem

const adminUrl = (): string => {
  const url = process.env.TEST_DATABASE_URL
  if (!url)
    throw new Error(
      'TEST_DATABASE_URL is set by the set-up of the tests; run them with npm test or jest at the root',
    )
  return url
}

/** Makes an empty database; it goes with the temporary cluster. @returns its address */
export async function emptyDatabase(): Promise<string> {
  const name = `test_${process.pid}_${Math.random().toString(36).slice(2)}`
  const client = new pg.Client({ connectionString: adminUrl() })
  await client.connect()
  await client.query(`create database ${name}`)
  await client.end()
  const url = new URL(adminUrl())
  url.pathname = `/${name}`
  return url.href
}

export interface Answer<T = unknown> {
  readonly status: number
  readonly body: T
  readonly headers: Headers
}

/** A browser without a page: it keeps its cookie and its token, and checks each answer against the contract. */
export class TestPerson {
  readonly origin: string
  cookie = ''
  csrfToken = ''

  constructor(origin: string) {
    this.origin = origin
  }

  async call<R extends Route>(
    route: R,
    { params, body, query = '' }: { params?: ParamsOf<R>; body?: BodyOf<R>; query?: string } = {},
    headers: Record<string, string> = {},
  ): Promise<Answer<ResponseOf<R>>> {
    const path = pathTo(route, params)
    const response = await fetch(this.origin + path + query, {
      method: route.method.toUpperCase(),
      headers: {
        'Content-Type': 'application/json',
        Cookie: this.cookie,
        'X-CSRF-Token': this.csrfToken,
        ...headers,
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
    const cookie = response.headers.getSetCookie()[0]
    if (cookie) this.cookie = cookie.split(';', 1)[0] ?? ''
    const text = await response.text()
    const answer: unknown = text === '' ? undefined : JSON.parse(text)
    const promised = response.ok ? route.response : problemSchema
    if (promised && !ajv.validate(promised, answer))
      throw new Error(`${path} broke the contract: ${ajv.errorsText()}`)
    if (response.ok && response.status !== route.status)
      throw new Error(`${path} answered ${response.status}, not ${route.status}`)
    if (answer && typeof answer === 'object' && 'csrfToken' in answer)
      this.csrfToken = String(answer.csrfToken)
    return { status: response.status, body: answer as ResponseOf<R>, headers: response.headers }
  }

  async becomeOwner(): Promise<void> {
    await this.call(routes.createOwner, { body: { name: 'Ines Marlow', password: 'a gate, a goat, a bell' } })
  }

  /** Creates a site, once, and a device on it. @returns what the device needs to speak */
  async createDevice(
    address: string,
    kitId?: number,
  ): Promise<{ address: string; secret: string; token: string }> {
    const sites = (await this.call(routes.listSites)).body
    const site =
      sites[0] ??
      (await this.call(routes.createSite, { body: { name: 'Workshop', timeZone: 'Europe/Dublin' } })).body
    const { body } = await this.call(routes.createDevice, {
      body: { name: `Device ${address}`, address, siteId: site.id, ...(kitId && { kitId }) },
    })
    return { address, secret: body.secret, token: writeCredential({ address, secret: body.secret }) }
  }

  async device(address: string) {
    const { body } = await this.call(routes.listDevices)
    const found = body.find((device) => device.address === address)
    if (!found) throw new Error(`there is no device ${address}`)
    return found
  }

  async accept(address: string, field: string): Promise<void> {
    const signal = (await this.device(address)).signals.find((candidate) => candidate.field === field)
    if (!signal) throw new Error(`${address} has no signal for ${field}`)
    await this.call(routes.changeSignalDefinition, {
      params: { definitionId: signal.definitionId },
      body: { state: 'accepted' },
    })
  }

  /** Says how much a device may send. */
  async limit(address: string, body: BodyOf<typeof routes.changeDevice>): Promise<void> {
    await this.call(routes.changeDevice, { params: { address }, body })
  }

  /** The newest message that fits, once there is one. */
  async arrival(fits: (arrival: Arrival) => boolean): Promise<Arrival> {
    for (let look = 0; look < 500; look++) {
      const { body } = await this.call(routes.listArrivals, { query: '?limit=20' })
      const found = body.find(fits)
      if (found) return found
      await new Promise((soon) => setTimeout(soon, 50))
    }
    throw new Error('the message that was awaited did not arrive')
  }

  /** The values of a field as the charts get them, oldest first. */
  async values(address: string, field: string, span = 3_600_000): Promise<[number, number][]> {
    const signal = (await this.device(address)).signals.find((candidate) => candidate.field === field)
    const to = Date.now() + 10_000
    const { body } = await this.call(routes.getTraces, {
      query: `?signals=${signal?.id}&from=${to - span}&to=${to}&columns=4000`,
    })
    return body[0]?.points ?? []
  }
}

/** Sends a body to the HTTP door. */
export async function send(
  origin: string,
  token: string | undefined,
  body: string | object | Uint8Array,
  headers: Record<string, string> = {},
): Promise<Answer<Problem & { stored?: number }>> {
  const response = await fetch(`${origin}/in`, {
    method: 'POST',
    headers: {
      'Content-Type': 'application/json',
      ...(token && { Authorization: `Bearer ${token}` }),
      ...headers,
    },
    body: typeof body === 'string' || body instanceof Uint8Array ? body : JSON.stringify(body),
  })
  const text = await response.text()
  return {
    status: response.status,
    body: text === '' ? undefined : JSON.parse(text),
    headers: response.headers,
  }
}

export interface ServerUnderTest {
  readonly origin: string
  readonly owner: TestPerson
  readonly databaseUrl: string
  readonly mqttPort: number
  readonly coapPort: number
  readonly close: () => Promise<void>
}

/** A server that treads on nobody's ports and says nothing. */
export const testConfig = (databaseUrl: string): Config => ({
  host: '127.0.0.1',
  port: 0,
  mqttPort: 0,
  coapPort: 0,
  serverName: 'test',
  databaseUrl,
  logLevel: 'silent',
  messageDays: 7,
})

/** The real server on an empty database, with its owner signed in. `time.now` can be moved by the test. */
export async function serverUnderTest(time = { now: Date.now }): Promise<ServerUnderTest> {
  const databaseUrl = await emptyDatabase()
  const server = await startServer(testConfig(databaseUrl), { webRoot: undefined, now: () => time.now() })
  const owner = new TestPerson(server.url)
  await owner.becomeOwner()
  return {
    origin: server.url,
    mqttPort: server.mqttPort ?? 0,
    coapPort: server.coapPort ?? 0,
    owner,
    databaseUrl,
    close: server.close,
  }
}
