import { gzipSync } from 'node:zlib'
import autocannon from 'autocannon'
import { median, whole } from './median.ts'
import { startSparrow } from './server.ts'

const rounds = 3
const seconds = 2
const names = ['a', 'b', 'c', 'd', 'e', 'f']

let instant = Date.now() - 25 * 86_400_000

const csv = (t: number) => `t,${names.join()}\n${[t, ...names.map((_, n) => n + t / 7)].join()}`
const json = (t: number) =>
  JSON.stringify({ t, ...Object.fromEntries(names.map((name, n) => [name, n + t / 7])) })

/** The same six readings in every format that is plain to write here. */
const formats: readonly (readonly [
  name: string,
  contentType: string,
  body: (t: number) => string | Buffer,
])[] = [
  ['JSON', 'application/json', json],
  ['SenML', 'application/senml+json', (t) => JSON.stringify(names.map((n, v) => ({ n, t: t / 1000, v })))],
  ['CSV', 'text/csv', csv],
  [
    'form',
    'application/x-www-form-urlencoded',
    (t) => `t=${t}&${names.map((n, v) => `${n}=${v}`).join('&')}`,
  ],
  ['JSON, packed with gzip', 'gzip', (t) => gzipSync(json(t))],
]

async function requestsPerSecond(
  url: string,
  token: string,
  [, contentType, body]: (typeof formats)[number],
): Promise<number> {
  const packed = contentType === 'gzip'
  const result = await autocannon({
    url: `${url}/in`,
    connections: 20,
    duration: seconds,
    requests: [
      {
        method: 'POST',
        setupRequest: (request) => ({
          ...request,
          headers: {
            authorization: `Bearer ${token}`,
            'content-type': packed ? 'application/json' : contentType,
            ...(packed && { 'content-encoding': 'gzip' }),
          },
          body: body(instant++),
        }),
      },
    ],
  })
  if (result.non2xx > 0) throw new Error(`${result.non2xx} answers were no success`)
  return result['2xx'] / result.duration
}

/** The HTTP door by format, each against JSON in the same round. */
export async function formatsOverHttp(databaseUrl: string): Promise<string[]> {
  const sparrow = await startSparrow(databaseUrl)
  const token = await sparrow.owner.createDevice('formats', names)
  const results = formats.map((): number[] => [])
  for (let round = 0; round <= rounds; round++) {
    for (const [index, format] of formats.entries()) {
      const measured = await requestsPerSecond(sparrow.url, token, format)
      if (round > 0) results[index]?.push(measured)
    }
  }
  await sparrow.stop()
  const [plain = []] = results
  return formats.map(([name], index) => {
    const own = results[index] ?? []
    const ratio = median(own.map((value, round) => value / (plain[round] ?? 1)))
    return `| HTTP, six readings as ${name} | ${whole(median(own))} requests/s${index === 0 ? '' : `, ${ratio.toFixed(2)} of JSON`} | |`
  })
}
