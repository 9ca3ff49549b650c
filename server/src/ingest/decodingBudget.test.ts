import { interpret, unknownFields } from '@jaunty-sparrow/core/interpret'
import { SignalMap } from '@jaunty-sparrow/core/signal'
import { type HostileBody, hostileBodies } from '../testing/hostileBodies.ts'
import { decodeMessage } from './decodeMessage.ts'

const noSignals = new SignalMap([])
const smallest = 16_384
/** Sixteen times as much is as large as a message may be. */
const largest = 65_536
const growth = 16
/** What takes less cannot be told from what the machine does besides, ms. */
const measurable = 2

const bytesOf = (body: string | Uint8Array): Uint8Array =>
  typeof body === 'string' ? Buffer.from(body) : body

/**
 * The least CPU time of five runs, ms: whatever else the machine does only adds to it. Where that is beyond `enough`, the
 * machine is given up to twenty more, spread over its busy moments.
 */
function cost({ mediaType, make }: HostileBody, n: number, enough = Number.POSITIVE_INFINITY): number {
  const message = { mediaType, body: bytesOf(make(n)), tail: mediaType === 'text/plain' ? 'a' : '' }
  let least = Number.POSITIVE_INFINITY
  for (let run = 0; run < 5 || (run < 25 && least > enough); run++) {
    const before = process.cpuUsage()
    const { records } = decodeMessage(message, 0)
    if (records && !('failure' in records)) {
      unknownFields(records, noSignals)
      interpret(records, () => noSignals, 0)
    }
    const { user, system } = process.cpuUsage(before)
    least = Math.min(least, (user + system) / 1000)
  }
  return least
}

it.each(hostileBodies.map((body) => [body.name, body] as const))(
  '%s: sixteen times as much costs at most sixty-four times as much',
  (_, body) => {
    let n = smallest
    let small = cost(body, n)
    while (small < measurable && n < largest) {
      n *= 2
      small = cost(body, n)
    }
    const bound = 64 * Math.max(small, measurable)
    expect(cost(body, n * growth, bound)).toBeLessThanOrEqual(bound)
  },
)
