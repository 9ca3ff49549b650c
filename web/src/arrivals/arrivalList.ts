import type { Arrival, ArrivalOutcome, DoorName, LiveFrame } from '@jaunty-sparrow/contract'

export interface ArrivalFilter {
  readonly deviceId?: number
  readonly door?: DoorName
  readonly outcome?: ArrivalOutcome
  readonly text?: string
}

export interface ArrivalList {
  arrivals: Arrival[]
  /** Messages that came in too fast to be told of one by one since the page was opened. */
  skipped: number
}

/** More than this nobody scrolls through; the filter finds what is older. */
const mostHeld = 1000

/** Puts what came in at the top of the list, as far as it fits the filter, each message once. */
export function applyArrivals(
  list: ArrivalList,
  frame: Extract<LiveFrame, { kind: 'arrivals' }>,
  filter: ArrivalFilter,
): void {
  const newest = list.arrivals[0]?.id ?? 0
  const fresh = frame.arrivals.filter((arrival) => arrival.id > newest && fits(arrival, filter))
  fresh.sort((a, b) => b.id - a.id)
  list.arrivals.unshift(...fresh)
  list.arrivals.splice(mostHeld)
  list.skipped += frame.skipped
}

/** The same choice the server makes, as far as it can be made without the body. */
function fits(arrival: Arrival, { deviceId, door, outcome, text = '' }: ArrivalFilter): boolean {
  return (
    (deviceId === undefined || arrival.deviceId === deviceId) &&
    (door === undefined || arrival.door === door) &&
    (outcome === undefined || arrival.outcome === outcome) &&
    `${arrival.sender} ${arrival.reason} ${arrival.topic}`.toLowerCase().includes(text.toLowerCase())
  )
}
