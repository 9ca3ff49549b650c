import type { NewSignalDefinition } from '@jaunty-sparrow/contract'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { dayAngle, rounded } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { minute, second } from './story.ts'

const usual = { ...usualControl, unless: [] }

const channel = (field: string, name: string) =>
  ({
    field,
    name,
    kind: 'number',
    origin: 'controlled',
    unit: '%',
    range: { low: 0, high: 100 },
    control: { ...usual, step: 5 },
    group: 'Colour',
    storing: { by: 'change', deadband: 0, heartbeat: 600 },
  }) as const satisfies NewSignalDefinition

/** The lamp over the counter of the farm shop: three channels, warm in the evening, and a button that makes it flash. */
export const shopLamp: StandIn = {
  name: 'Shop lamp',
  address: 'shop-lamp',
  kit: {
    name: 'Lamp node',
    cadence: { by: 'always', seconds: 15 },
    signals: [
      channel('/lamp/red', 'Red'),
      channel('/lamp/green', 'Green'),
      channel('/lamp/blue', 'Blue'),
      { field: '/flash', name: 'Flash', kind: 'momentary', origin: 'controlled' },
    ],
  },
  speaks: 'mqtt',
  obeys: { slowness: 600, misses: 0.05, buttons: ['flash'] },
  period: 15 * second,
  historyPeriod: 5 * minute,
  message: (at) => {
    const light = Math.max(0, Math.sin(dayAngle(at) - 1.2))
    const evening = Math.max(0, Math.sin(dayAngle(at) - 2.6))
    return {
      lamp: {
        red: rounded(light * 90, 0),
        green: rounded(light * (80 - evening * 25), 0),
        blue: rounded(light * (70 - evening * 50), 0),
      },
    }
  },
}
