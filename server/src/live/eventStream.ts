import { routes } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type { Binder } from '../http/binder.ts'
import type { Faults } from '../life/faults.ts'
import type { LiveHub } from './hub.ts'
import { LiveClient } from './liveClient.ts'
import { type SitesOf, sightOf } from './sight.ts'

/** How long a program that follows is not asked for its token again, ms. */
const trust = 15_000

export interface StreamParts {
  readonly binder: Binder
  readonly hub: LiveHub
  readonly places: SitesOf
  readonly latest: { of(signal: number): Reading | undefined }
  readonly faults: Faults
  readonly now: () => number
}

/** Live readings for scripts, as server-sent events: a snapshot, then what comes in. */
export function bindEventStream({ binder, hub, places, latest, faults, now }: StreamParts): void {
  binder.bind(routes.followReadings, async ({ caller, query, response, again }) => {
    const sight = sightOf(caller.access, places)
    // One that is not there yet may come to be where the caller may not look.
    const signals = query.signals.split(',').map(Number).filter(sight.signal)
    response.writeHead(200, {
      'Content-Type': 'text/event-stream; charset=utf-8',
      // A proxy or a packer that gathers would hold back what is live.
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    })
    const client = new LiveClient(
      {
        backlog: () => response.writableLength,
        send: (frame) => response.write(`data: ${frame}\n\n`),
      },
      sight,
    )
    hub.join(client)
    const looking = setInterval(
      faults.guard('a stream of events', async () => {
        const still = await again()
        const isAllowed = signals.every((signal) => {
          const siteId = places.ofSignal(signal)
          return siteId === undefined || (still && mayAt(still.access, 'viewer', siteId))
        })
        // A comment keeps the line from looking dead.
        if (still && isAllowed) response.write(': alive\n\n')
        else response.end()
      }),
      trust,
    )
    response.on('error', () => response.destroy())
    response.on('close', () => {
      clearInterval(looking)
      hub.leave(client)
    })
    hub.subscribe(
      client,
      signals,
      signals.flatMap((signal) => latest.of(signal) ?? []),
      now(),
    )
  })
}
