import { interpret } from '@jaunty-sparrow/core/interpret'
import { decode } from '@jaunty-sparrow/core/message'
import { SignalMap, usualSettings } from '@jaunty-sparrow/core/signal'
import { encode } from 'cborg'
import { median, whole } from './median.ts'

const names = ['a', 'b', 'c', 'd', 'e', 'f']
const records = 20
const rounds = 5
/** How long each round lasts, ms. */
const span = 400

const signals = new SignalMap(
  names.map((name, n) => ({
    signal: n + 1,
    part: '',
    own: [],
    definition: {
      ...usualSettings,
      id: n + 1,
      name,
      field: `/${name}`,
      kind: 'number',
      origin: 'measured',
      state: 'accepted',
      choices: [],
      range: { low: -1000, high: 1000 },
      greatestRate: 1e6,
    },
  })),
)

const start = 1_795_000_000
const rows = Array.from({ length: records }, (_, n) => ({
  t: start + n,
  ...Object.fromEntries(names.map((name, i) => [name, 20 + n / 7 + i])),
}))
const senml = rows.flatMap(({ t, ...values }) =>
  Object.entries(values).map(([n, v]) => ({ n, t, v: Number(v) })),
)
const text = new TextEncoder()

/** Twenty records of six readings, in each format that holds several. */
const bodies: Readonly<Record<string, Uint8Array>> = {
  'application/json': text.encode(JSON.stringify(rows)),
  'application/cbor': encode(rows),
  'application/senml+json': text.encode(JSON.stringify(senml)),
  'application/senml+cbor': encode(senml),
  'text/csv': text.encode([`t,${names.join()}`, ...rows.map((row) => Object.values(row).join())].join('\n')),
  'text/x.pairs': text.encode(
    rows
      .map((row) =>
        Object.entries(row)
          .map((pair) => pair.join('='))
          .join(' '),
      )
      .join('\n'),
  ),
}

/** Readings a second that one thread takes from bytes to judged readings, by format. */
export async function coreAlone(): Promise<string[]> {
  const receivedAt = (start + records) * 1000
  const measured = Object.entries(bodies).map(([mediaType, body]) => {
    const once = (): number => {
      const decoded = decode({ mediaType, body }, receivedAt)
      if (!decoded || 'failure' in decoded) throw new Error(`${mediaType} was not understood`)
      const { readings, refused } = interpret(decoded, () => signals, receivedAt)
      if (refused.length > 0) throw new Error(`${mediaType}: ${refused[0]?.reason}`)
      return readings.length
    }
    const speeds: number[] = []
    for (let round = 0; round <= rounds; round++) {
      const begun = performance.now()
      let count = 0
      while (performance.now() - begun < span) count += once()
      // The first round warms everything up.
      if (round > 0) speeds.push((count * 1000) / (performance.now() - begun))
    }
    return { mediaType, speed: median(speeds) }
  })
  const json = measured[0]?.speed ?? 1
  return measured.map(
    ({ mediaType, speed }) =>
      `| core alone, decode to judge, ${mediaType}, one thread | ${whole(speed)} readings/s, ${(speed / json).toFixed(2)} of JSON | |`,
  )
}
