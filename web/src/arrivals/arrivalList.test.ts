import type { Arrival } from '@jaunty-sparrow/contract'
import { type ArrivalList, applyArrivals } from './arrivalList.ts'

const arrival = (id: number, over: Partial<Arrival> = {}): Arrival => ({
  id,
  receivedAt: id,
  door: 'http',
  deviceId: 1,
  sender: 'bench',
  mediaType: 'application/json',
  tail: '',
  topic: '',
  byHand: false,
  size: 10,
  outcome: 'stored',
  stored: 1,
  reason: '',
  ...over,
})
const list = (...arrivals: Arrival[]): ArrivalList => ({ arrivals, skipped: 0 })
const frame = (...arrivals: Arrival[]) => ({ v: 1 as const, kind: 'arrivals' as const, arrivals, skipped: 3 })

describe('the list of arrivals', () => {
  it('has the newest on top, each once, and counts what was skipped', () => {
    const shown = list(arrival(5), arrival(4))
    applyArrivals(shown, frame(arrival(5), arrival(6), arrival(7)), {})
    expect(shown.arrivals.map(({ id }) => id)).toEqual([7, 6, 5, 4])
    expect(shown.skipped).toBe(3)
  })

  it('puts one that was told of late where it belongs', () => {
    const shown = list(arrival(9), arrival(3))
    applyArrivals(shown, frame(arrival(7), arrival(8), arrival(1), arrival(3)), {})
    expect(shown.arrivals.map(({ id }) => id)).toEqual([9, 8, 7, 3, 1])
  })

  it('takes only what fits the filter', () => {
    const shown = list()
    const wrong = arrival(2, { outcome: 'refused', deviceId: null, sender: 'brine', reason: 'Wrong secret' })
    applyArrivals(shown, frame(arrival(1), wrong, arrival(3, { outcome: 'refused' })), {
      outcome: 'refused',
      text: 'SECRET',
    })
    expect(shown.arrivals).toEqual([wrong])
  })

  it('holds no more than a page can', () => {
    const shown = list(...Array.from({ length: 1000 }, (_, n) => arrival(1000 - n)))
    applyArrivals(shown, frame(arrival(1001)), {})
    expect(shown.arrivals).toHaveLength(1000)
    expect(shown.arrivals[0]?.id).toBe(1001)
  })
})
