import {
  type Answer,
  ApiClient,
  type Arrival,
  type Asked,
  type BodyOf,
  openApiDocument,
  type Problem,
  type ResponseOf,
  type Route,
  routes,
} from '@jaunty-sparrow/contract'
import { writeCredential } from '@jaunty-sparrow/core/device'
import { Ajv } from 'ajv'
import addFormats from 'ajv-formats'
import pg from 'pg'
import type { Config } from '../config.ts'
import { isLanguageTag } from '../http/languageTag.ts'
import { isTimeZone } from '../http/timeZone.ts'
import type { Faults } from '../life/faults.ts'
import { startServer } from '../server.ts'
import { LiveLine } from './liveLine.ts'

const ajv = new Ajv({ strict: false })
addFormats.default(ajv)
ajv.addFormat('time-zone', isTimeZone).addFormat('language-tag', isLanguageTag)
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

/** A browser without a page, which checks each answer against the contract. */
export class TestPerson extends ApiClient {
  constructor(origin: string) {
    super(origin, fetch)
  }

  async call<R extends Route>(
    route: R,
    asked: Asked<R> = {},
    headers: Record<string, string> = {},
  ): Promise<Answer<ResponseOf<R>>> {
    const answer = await this.ask(route, asked, headers)
    const isRight = answer.status < 400
    const promised = isRight ? route.response : problemSchema
    if (promised && !ajv.validate(promised, answer.body))
      throw new Error(`${route.path} broke the contract: ${ajv.errorsText()}`)
    if (isRight && answer.status !== route.status)
      throw new Error(`${route.path} answered ${answer.status}, not ${route.status}`)
    return answer
  }

  /** @param token what the server told whoever started it */
  async becomeOwner(token: string | undefined): Promise<void> {
    if (token === undefined) throw new Error('there is an owner already')
    await this.call(routes.createOwner, {
      body: { name: 'Ines Marlow', password: 'a gate, a goat, a bell', token },
    })
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

  /** A message that fits, once there is one. */
  async arrival(fits: (arrival: Arrival) => boolean): Promise<Arrival> {
    const line = await LiveLine.open(this.origin, this.cookie, { arrivals: true, subscribe: [] })
    try {
      // From the snapshot on the line tells what comes; what came before is in the list.
      await line.hear((frame) => frame.kind === 'snapshot' || undefined)
      const { body } = await this.call(routes.listArrivals, { query: { limit: 20 } })
      return (
        body.find(fits) ??
        (await line.hear((frame) => (frame.kind === 'arrivals' ? frame.arrivals.find(fits) : undefined)))
      )
    } finally {
      line.close()
    }
  }

  /** Looks again whenever the server tells its pages anything, until what is found fits. */
  async until<T>(look: () => Promise<T>, fits: (found: T) => boolean): Promise<T> {
    const line = await LiveLine.open(this.origin, this.cookie, {
      arrivals: true,
      presence: true,
      subscribe: [],
    })
    try {
      await line.hear((frame) => frame.kind === 'snapshot' || undefined)
      for (let heard = 1; ; heard++) {
        const found = await look()
        if (fits(found)) return found
        await line.count(heard + 1)
      }
    } finally {
      line.close()
    }
  }

  /** The values of a field as the charts get them, oldest first. */
  async values(address: string, field: string, span = 3_600_000): Promise<[number, number][]> {
    const signal = (await this.device(address)).signals.find((candidate) => candidate.field === field)
    const to = Date.now() + 10_000
    const { body } = await this.call(routes.getTraces, {
      query: { signals: String(signal?.id), from: to - span, to, columns: 4000 },
    })
    return body[0]?.points ?? []
  }
}

/** Sends what a device that may send once a minute may send at once: a day's worth. */
export async function spendDay(origin: string, token: string): Promise<void> {
  for (let sent = 0; sent < 1440; sent += 48) {
    const answers = await Promise.all(
      Array.from({ length: 48 }, (_, n) => send(origin, token, { n: sent + n })),
    )
    const other = answers.find(({ status }) => status !== 204)
    if (other) throw new Error(`a day's worth was not taken: ${other.status}`)
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
  readonly faults: Faults
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
  allowedHosts: [],
  tlsPort: 0,
  mqttTlsPort: 0,
  plainSecrets: true,
  mapCredit: '',
})

/** The real server on an empty database, with its owner signed in. `time.now` can be moved by the test. */
export async function serverUnderTest(
  // Its clock may be another one later on: it is asked each time.
  given: { readonly now?: () => number; readonly config?: Partial<Config> } = {},
): Promise<ServerUnderTest> {
  const databaseUrl = await emptyDatabase()
  const server = await startServer(
    { ...testConfig(databaseUrl), ...given.config },
    { webRoot: undefined, now: () => (given.now ?? Date.now)() },
  )
  const owner = new TestPerson(server.url)
  await owner.becomeOwner(server.firstRunToken)
  return {
    origin: server.url,
    mqttPort: server.mqttPort ?? 0,
    coapPort: server.coapPort ?? 0,
    owner,
    databaseUrl,
    faults: server.faults,
    close: server.close,
  }
}
