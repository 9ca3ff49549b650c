import { seedOf } from '../noise.ts'
import { rounded, wander } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { day, hour, minute, second } from './story.ts'

const seed = seedOf('cool box')

/** The round of a delivery: the dairy, three shops, and back; degrees, with the minutes since it set out. */
const stops: readonly (readonly [minutes: number, lat: number, lon: number, says: string])[] = [
  [0, 54.4612, -2.1874, 'loading'],
  [25, 54.4612, -2.1874, 'on the way'],
  [55, 54.4231, -2.0948, 'at the first shop'],
  [90, 54.3787, -2.0311, 'at the second shop'],
  [130, 54.4019, -2.1562, 'at the third shop'],
  [165, 54.4612, -2.1874, 'back at the dairy'],
]

/** It sets out at half past seven. */
const setsOut = 7.5 * hour

function place(at: number): { readonly lat: number; readonly lon: number; readonly says: string } {
  const minutes = ((at % day) - setsOut) / minute
  const next = stops.findIndex(([reached]) => reached > minutes)
  const [from, lat, lon, says] = stops.at(next === -1 ? -1 : Math.max(0, next - 1)) ?? [0, 0, 0, '']
  const to = next > 0 ? stops[next] : undefined
  if (!to) return { lat, lon, says: minutes < 0 ? 'in the dairy' : says }
  // It rests a third of each leg where it came from.
  const share = Math.max(0, ((minutes - from) / (to[0] - from)) * 1.5 - 0.5)
  return {
    lat: lat + (to[1] - lat) * share,
    lon: lon + (to[2] - lon) * share,
    says: share === 0 ? says : 'on the way',
  }
}

/** The cool box that goes with the deliveries, with a radio of its own; it knows where it is. */
export const coolBox: StandIn = {
  name: 'Delivery cool box',
  address: 'cool-box',
  hasBattery: true,
  kit: {
    name: 'Cool box',
    cadence: { by: 'always', seconds: 30 },
    signals: [
      { field: '/temperature', name: 'Inside', kind: 'number', unit: 'Cel', range: { low: -30, high: 50 } },
      {
        field: '/place',
        name: 'Place',
        kind: 'position',
        storing: { by: 'change', deadband: 20, heartbeat: 3600 },
      },
      {
        field: '/says',
        name: 'Says',
        kind: 'text',
        storing: { by: 'change', deadband: 0, heartbeat: 3600 },
      },
    ],
  },
  speaks: 'mqtt',
  period: 30 * second,
  historyPeriod: 5 * minute,
  message: (at) => {
    const { lat, lon, says } = place(at)
    return {
      temperature: rounded(3.6 + (says.startsWith('at ') ? 1.1 : 0) + wander(seed, at, 0.5, 0.2, 0.05), 1),
      place: { lat: rounded(lat, 5), lon: rounded(lon, 5) },
      says,
    }
  },
}
