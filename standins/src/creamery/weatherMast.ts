import { drift, seedOf } from '../noise.ts'
import { dayAngle, rounded, wander } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { day, hour, minute } from './story.ts'

const seed = seedOf('weather mast')

/** The weather mast lives on a battery: it sleeps ten minutes at a time, and says when it measured. */
export const weatherMast: StandIn = {
  name: 'Weather mast',
  address: 'weather-mast',
  hasBattery: true,
  kit: {
    name: 'Weather mast',
    cadence: { by: 'sleep', seconds: 600 },
    signals: [
      {
        field: '/temperature',
        name: 'Air temperature',
        kind: 'number',
        unit: 'Cel',
        range: { low: -40, high: 60 },
      },
      {
        field: '/pressure',
        name: 'Air pressure',
        kind: 'number',
        unit: 'hPa',
        decimals: 1,
        range: { low: 800, high: 1100 },
        // The part tells it in Pa.
        conversion: 'x / 100',
      },
      { field: '/wind/speed', name: 'Wind', kind: 'number', unit: 'm/s', range: { low: 0, high: 60 } },
      {
        field: '/wind/direction',
        name: 'Wind from',
        kind: 'number',
        unit: 'deg',
        range: { low: 0, high: 360 },
      },
      { field: '/light', name: 'Light', kind: 'number', unit: '%', range: { low: 0, high: 100 } },
      { field: '/battery', name: 'Battery', kind: 'number', unit: 'V', range: { low: 2.5, high: 4.5 } },
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
      wind: {
        speed: rounded(
          Math.max(0, 4.2 + drift(seed + 60, at, 7 * hour) * 3 + wander(seed + 61, at, 0.8, 0.7, 0.3)),
          1,
        ),
        direction: rounded(
          (((230 + drift(seed + 70, at, day) * 70 + wander(seed + 71, at, 9, 12, 6)) % 360) + 360) % 360,
          0,
        ),
      },
      light: rounded(sun * clouds * 96, 1),
      battery: rounded(3.86 + sun * 0.14 + wander(seed + 40, at, 0.02, 0.005, 0.002), 3),
    }
  },
}
