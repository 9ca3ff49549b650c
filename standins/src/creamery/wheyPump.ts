import { roll, seedOf } from '../noise.ts'
import { rounded } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { minute } from './story.ts'

const seed = seedOf('whey pump')

/** It empties the whey tank whenever that is full. */
const turn = 35 * minute
const emptying = 9 * minute

const isRunning = (at: number): boolean => at % turn < emptying

/** The shaking of one axis: the hum of the motor, now and then a knock of the valve, and next to nothing at rest. */
function shaking(axis: number, at: number): number {
  const place = at / 250
  if (!isRunning(at)) return roll(seed + axis, place) * 0.04
  const knock = roll(seed + 10, place) > 0.985 ? 2.4 : 0
  return Math.sin(place * (1.9 + axis)) * 1.3 + roll(seed + axis, place) * 0.5 + knock
}

const axis = (name: 'x' | 'y' | 'z') =>
  ({
    field: `/vibration/${name}`,
    name: `Vibration ${name}`,
    kind: 'number',
    unit: 'm/s2',
    range: { low: -20, high: 20 },
    // Four a second tell nothing that the lowest and the highest of ten seconds do not.
    storing: { by: 'interval', seconds: 10, of: 'range' },
  }) as const

/** The whey pump: three-axis vibration four times a second, sent every two seconds and stored thinner. */
export const wheyPump: StandIn = {
  name: 'Whey pump',
  address: 'whey-pump',
  kit: {
    name: 'Pump node',
    cadence: { by: 'always', seconds: 2 },
    signals: [
      axis('x'),
      axis('y'),
      axis('z'),
      {
        field: '/running',
        name: 'Running',
        kind: 'switch',
        storing: { by: 'change', deadband: 0, heartbeat: 600 },
      },
    ],
  },
  speaks: 'http',
  period: 250,
  together: 8,
  historyPeriod: minute,
  message: (at) => ({
    vibration: {
      x: rounded(shaking(0, at), 2),
      y: rounded(shaking(1, at), 2),
      z: rounded(shaking(2, at), 2),
    },
    running: isRunning(at),
  }),
}
