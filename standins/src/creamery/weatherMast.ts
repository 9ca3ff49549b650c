import { drift, seedOf } from '../noise.ts'
import { dayAngle, rounded, wander } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { day, hour, minute } from './story.ts'

const seed = seedOf('weather mast')

/** The weather mast lives on a battery: it sleeps ten minutes at a time, and says when it measured. */
export const weatherMast: StandIn = {
  name: 'Weather mast',
  address: 'weather-mast',
  kit: {
    name: 'Weather mast',
    cadenceSeconds: 600,
    signals: [
      {
        field: '/temperature',
        name: 'Air temperature',
        kind: 'number',
        unit: 'Cel',
        rangeLow: -40,
        rangeHigh: 60,
      },
      {
        field: '/pressure',
        name: 'Air pressure',
        kind: 'number',
        unit: 'Pa',
        rangeLow: 80000,
        rangeHigh: 110000,
      },
      { field: '/light', name: 'Light', kind: 'number', unit: '%', rangeLow: 0, rangeHigh: 100 },
      { field: '/battery', name: 'Battery', kind: 'number', unit: 'V', rangeLow: 2.5, rangeHigh: 4.5 },
    ],
  },
  speaks: 'http',
  period: 10 * minute,
  historyPeriod: 10 * minute,
  message: (at) => {
    const sun = Math.max(0, -Math.cos(dayAngle(at)))
    const clouds = 0.6 + drift(seed + 30, at, 3 * hour) * 0.4
    return {
      temperature: rounded(
        9 -
          Math.cos(dayAngle(at - 2 * hour)) * 4.5 +
          drift(seed, at, 2 * day) * 4 +
          wander(seed + 1, at, 0.8, 0.2, 0.05),
        2,
      ),
      pressure: rounded(
        101_100 + drift(seed + 10, at, 1.5 * day) * 1400 + wander(seed + 11, at, 60, 12, 4),
        0,
      ),
      light: rounded(sun * clouds * 96, 1),
      battery: rounded(3.86 + sun * 0.14 + wander(seed + 40, at, 0.02, 0.005, 0.002), 3),
    }
  },
}
