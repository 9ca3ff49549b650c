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

/**
 * Puts what came in into the list, as far as it fits the filter, each message once. Mostly that is at the top; but one that
 * was longer on its way to be stored is told of later than one that came after it.
 */
export function applyArrivals(
  list: ArrivalList,
  frame: Extract<LiveFrame, { kind: 'arrivals' }>,
  filter: ArrivalFilter,
): void {
  const { arrivals } = list
  for (const fresh of frame.arrivals) {
    if (!fits(fresh, filter)) continue
    const older = arrivals.findIndex(({ id }) => id <= fresh.id)
    const place = older === -1 ? arrivals.length : older
    if (arrivals[place]?.id !== fresh.id) arrivals.splice(place, 0, fresh)
  }
  arrivals.splice(mostHeld)
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
