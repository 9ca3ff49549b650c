import { seedOf } from '../noise.ts'
import { rounded, wander } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { stateAlarm } from './stateAlarm.ts'
import { day, hour, minute, second } from './story.ts'

const seed = seedOf('ph meter')

/** The culture sours the milk from 6.65 towards 5.1, slowly at first; afterwards the electrode stands in buffer 7.00. */
function acidity(at: number): number {
  const inHalfDay = at % (day / 2)
  if (inHalfDay > 7 * hour) return 7
  const soured = 1 / (1 + Math.exp(-(inHalfDay - 3.6 * hour) / (50 * minute)))
  return 6.65 - 1.55 * soured
}

/** The pH meter beside the vat, an old one with a serial cable. */
export const phMeter: StandIn = {
  name: 'pH meter',
  address: 'ph-meter',
  kit: {
    name: 'pH meter',
    cadence: { by: 'always', seconds: 5 },
    signals: [
      {
        field: '/pH',
        name: 'Acidity',
        kind: 'number',
        unit: '[pH]',
        range: { low: 0, high: 14 },
        limits: {
          lowLow: null,
          low: null,
          high: 6.8,
          highHigh: null,
          deadband: 0.1,
          onDelay: 300,
          offDelay: 0,
        },
        alarms: [
          stateAlarm('high', { by: 'limit', limit: 'high' }, 'minor', {
            cause: 'The electrode stands in its buffer, or the culture does not sour.',
            consequence: 'A culture that does not sour is lost after six hours.',
            response: 'Put the electrode into the milk; taste.',
            timeToAct: 3600,
          }),
        ],
      },
      {
        field: '/temperature',
        name: 'Temperature',
        kind: 'number',
        unit: 'Cel',
        range: { low: -5, high: 105 },
      },
    ],
  },
  speaks: 'serial',
  period: 5 * second,
  historyPeriod: minute,
  message: (at) => {
    const inMilk = at % (day / 2) < 7 * hour
    return {
      pH: rounded(acidity(at) + wander(seed, at, 0.01, 0.008, 0.004), 2),
      temperature: rounded((inMilk ? 31.6 : 18.5) + wander(seed + 20, at, 0.7, 0.15, 0.05), 1),
    }
  },
}
