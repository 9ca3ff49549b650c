import { interpret } from '@jaunty-sparrow/core/interpret'
import { decode } from '@jaunty-sparrow/core/message'
import { SignalMap, usualSettings } from '@jaunty-sparrow/core/signal'
import { median, whole } from './median.ts'

const names = ['a', 'b', 'c', 'd', 'e', 'f']
const rounds = 5
/** How long each round lasts, ms. */
const span = 300

const kinds: Readonly<Record<string, string | null>> = {
  'no formula': null,
  'a factor and an offset': 'x * 0.1 - 40',
  'a thermistor behind a divider':
    'thermistor_beta(divider_to_ground(adc_volts(x, 12, 3.3), 3.3, series), 10000, 3950)',
  'another field of the message': 'dew_point(x / 100, field("/f") / 50)',
  'a table of ten points':
    'table(x, 0, 0, 400, 1, 800, 3, 1200, 6, 1600, 10, 2000, 15, 2400, 21, 2800, 28, 3200, 36, 4095, 45)',
}

const signalsWith = (conversion: string | null): SignalMap =>
  new SignalMap(
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
        conversion,
      },
    })),
    [],
    { series: 10_000 },
  )

const start = 1_795_000_000
const body = new TextEncoder().encode(
  JSON.stringify(
    Array.from({ length: 20 }, (_, n) => ({
      t: start + n,
      ...Object.fromEntries(names.map((name, i) => [name, 2000 + n * 7 + i])),
    })),
  ),
)

/** Readings a second that one thread takes from bytes to judged readings, by the kind of their formula. */
export async function formulas(): Promise<string[]> {
  const receivedAt = (start + 20) * 1000
  const speeds = new Map<string, number[]>(Object.keys(kinds).map((kind) => [kind, []]))
  const maps = new Map(Object.entries(kinds).map(([kind, formula]) => [kind, signalsWith(formula)]))
  for (let round = 0; round <= rounds; round++) {
    // Taken in turns, so that what else the machine does meets all of them.
    for (const [kind, signals] of maps) {
      const begun = performance.now()
      let count = 0
      while (performance.now() - begun < span) {
        const decoded = decode({ mediaType: 'application/json', body }, receivedAt)
        if (!decoded || 'failure' in decoded) throw new Error('the message was not understood')
        const { readings, refused } = interpret(decoded, () => signals, receivedAt)
        if (refused.length > 0) throw new Error(`${kind}: ${refused[0]?.reason}`)
        count += readings.length
      }
      // The first round warms everything up.
      if (round > 0) speeds.get(kind)?.push((count * 1000) / (performance.now() - begun))
    }
  }
  const plain = median(speeds.get('no formula') ?? [])
  return [...speeds].map(([kind, measured]) => {
    const speed = median(measured)
    return `| core alone, decode to judge, each reading with ${kind} | ${whole(speed)} readings/s, ${(speed / plain).toFixed(2)} of no formula | |`
  })
}
