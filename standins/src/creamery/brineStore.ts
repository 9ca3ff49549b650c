import { usualControl } from '@jaunty-sparrow/core/signal'
import { seedOf } from '../noise.ts'
import { rounded, wander } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { stateAlarm } from './stateAlarm.ts'
import { day, hour, minute, second } from './story.ts'

const seed = seedOf('brine store')

/** The echo comes back from the brine 62 to 118 cm below the ranger: wheels take brine with them, twice a week it is topped up. */
const surface = (at: number): number => 62 + ((at % (3.5 * day)) / (3.5 * day)) * 56

/** A 10 kΩ thermistor below a 10 kΩ resistor at 3.3 V: what the input of the board reads at a temperature, V. */
function dividerVolts(celsius: number): number {
  const ohms = 10_000 * Math.exp(3950 * (1 / (celsius + 273.15) - 1 / 298.15))
  return (3.3 * ohms) / (ohms + 10_000)
}

const isPumping = (at: number): boolean => at % (6 * hour) < 25 * minute

/** It must not run dry. */
const isLow = { says: 'the brine is low', formula: 'a < 40', inputs: [{ name: 'a', named: 'Brine level' }] }
const pump = { ...usualControl, leastOff: 120, unless: [isLow] }

/** The brine store: an echo ranger above the basin, a thermistor whose volts are sent as they are, and the brine pump. */
export const brineStore: StandIn = {
  name: 'Brine store',
  address: 'brine-store',
  kit: {
    name: 'Brine node',
    cadence: { by: 'always', seconds: 10 },
    signals: [
      {
        field: '/distance',
        name: 'Down to the brine',
        kind: 'number',
        unit: 'cm',
        range: { low: 20, high: 200 },
      },
      {
        // From the same field: what is in the basin, which is 150 cm deep.
        field: '/distance',
        name: 'Brine level',
        kind: 'number',
        unit: 'cm',
        range: { low: 0, high: 150 },
        conversion: '150 - x',
        limits: { lowLow: null, low: 40, high: 95, highHigh: null, deadband: 1, onDelay: 60, offDelay: 60 },
        alarms: [
          stateAlarm('low', { by: 'limit', limit: 'low' }, 'important', {
            cause: 'The wheels have taken brine with them.',
            consequence: 'Below 40 cm the pump runs dry.',
            response: 'Top the basin up; until then the pump stays off.',
            timeToAct: 8 * 3600,
          }),
        ],
      },
      {
        // Volts over a thermistor that goes to ground, with 10 kΩ to 3.3 V.
        field: '/thermistor',
        name: 'Brine temperature',
        kind: 'number',
        unit: 'Cel',
        decimals: 1,
        range: { low: -10, high: 40 },
        conversion: 'thermistor_beta(divider_to_ground(x, 3.3, 10000), 10000, 3950)',
        faults: [{ value: 3.3, name: 'no thermistor' }],
        limits: {
          lowLow: null,
          low: null,
          high: 12,
          highHigh: null,
          deadband: 0.2,
          onDelay: 60,
          offDelay: 0,
        },
        alarms: [
          stateAlarm('high', { by: 'limit', limit: 'high' }, 'important', {
            cause: 'The store is not cooled, or warm brine was topped up.',
            consequence: 'Above 12 °C the wheels soften in the brine.',
            response: 'Cool the store; take soft wheels out first.',
            timeToAct: 6 * 3600,
          }),
          stateAlarm('fault', { by: 'fault', atLeast: 60 }, 'minor', {
            cause: 'The cable of the thermistor is broken.',
            response: 'Look at the plug beside the basin.',
          }),
        ],
      },
      { field: '/pump', name: 'Brine pump', kind: 'switch', origin: 'controlled', control: pump },
    ],
  },
  speaks: 'http',
  obeys: { slowness: 800, misses: 0.05 },
  period: 10 * second,
  historyPeriod: minute,
  message: (at) => ({
    distance: rounded(surface(at) + wander(seed, at, 0.3, 0.2, 0.4), 1),
    thermistor: rounded(dividerVolts(13 + wander(seed + 20, at, 0.6, 0.1, 0.02)), 3),
    pump: isPumping(at),
  }),
}
