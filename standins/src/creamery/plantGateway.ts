import { usualControl } from '@jaunty-sparrow/core/signal'
import { roll, seedOf } from '../noise.ts'
import { rounded, wander } from './signalCourse.ts'
import type { Board, StandIn } from './standIn.ts'
import { minute, second } from './story.ts'

const seed = seedOf('plant gateway')

/** The gateway in the plant room: it hears boards by radio, and publishes what they say with its own key. */
export const plantGateway: StandIn = {
  name: 'Plant room gateway',
  address: 'plant-gateway',
  kit: {
    name: 'Gateway',
    cadence: { by: 'always', seconds: 60 },
    signals: [
      { field: '/boards', name: 'Boards heard', kind: 'number', unit: null, range: { low: 0, high: 64 } },
      { field: '/supply', name: 'Supply', kind: 'number', unit: 'V', range: { low: 3, high: 6 } },
      {
        field: '/restart',
        name: 'Restart',
        kind: 'momentary',
        origin: 'controlled',
        control: { ...usualControl, unless: [], holds: true, role: 'owner', validFor: 120 },
      },
    ],
  },
  speaks: 'mqtt',
  obeys: { slowness: 2000, misses: 0, buttons: ['restart'] },
  period: minute,
  historyPeriod: 10 * minute,
  message: (at) => ({ boards: 2, supply: rounded(5.02 + roll(seed, at / minute) * 0.02, 2) }),
}

/** The branch of topics that is claimed: below it stands the address of a device. */
export const plantBranch = 'plant'

/** A board that was switched on over in the farm shop, and that nobody has claimed yet. */
export const shopFreezer: Board & { readonly topic: string } = {
  topic: 'shop/freezer',
  period: 20 * second,
  message: (at) => ({ temperature: rounded(-18.6 + wander(seed + 50, at, 1.1, 0.3, 0.05), 1) }),
}
