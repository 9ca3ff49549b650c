import { usualControl } from '@jaunty-sparrow/core/signal'
import { drift, roll, seedOf } from '../noise.ts'
import { rounded, wander } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { stateAlarm } from './stateAlarm.ts'
import { day, hour, minute, second } from './story.ts'

const seed = seedOf('milk vat')

/** Twice a day milk comes in warm, is held at ripening warmth, then cooled: 32 °C for three hours, 6 °C otherwise. */
function vatTemperature(at: number): number {
  const inHalfDay = at % (day / 2)
  const warm = 32
  const cold = 6
  if (inHalfDay < hour) return cold + (warm - cold) * (1 - Math.exp(-inHalfDay / (15 * minute)))
  if (inHalfDay < 4 * hour) return warm
  return cold + (warm - cold) * Math.exp(-(inHalfDay - 4 * hour) / (50 * minute))
}

/** Stirred all through the ripening, afterwards four minutes out of twenty. */
const turn = 20 * minute
const stirred = 4 * minute

function isStirring(at: number): boolean {
  return at % (day / 2) < 4.5 * hour || at % turn < stirred
}

/** How far the milk has parted into warm above and cold below, 0..1: slowly at rest, undone fast by the stirrer. */
function layering(at: number): number {
  if (at % (day / 2) < 4.5 * hour) return 0
  const inTurn = at % turn
  return inTurn < stirred
    ? Math.exp(-inTurn / (50 * second))
    : 1 - Math.exp(-(inTurn - stirred) / (6 * minute))
}

/** Nobody reaches into a vat that is stirred. */
const isOpen = { says: 'the lid is open', formula: 'a > 0.5', inputs: [{ name: 'a', named: 'Lid open' }] }
const stirrer = { ...usualControl, step: 5, unless: [isOpen] }

/** The milk vat: three probes on one bus, the stirrer and the lid. The lowest probe is a noisy one. */
export const milkVat: StandIn = {
  name: 'Milk vat',
  address: 'milk-vat',
  kit: {
    name: 'Vat node',
    cadence: { by: 'always', seconds: 2 },
    signals: [
      {
        field: '/probes/{part}',
        name: 'Milk,',
        kind: 'number',
        unit: 'Cel',
        range: { low: -10, high: 110 },
        faults: [{ value: 85, name: 'just powered on' }],
        greatestRate: 5,
        alarms: [
          stateAlarm('rate', { by: 'rate', most: 8, over: 60 }, 'important', {
            cause: 'Steam or water got into the vat, or a probe hangs loose.',
            consequence: 'The culture does not survive a shock.',
            response: 'Stop the inflow and look at the other probes.',
            timeToAct: 600,
          }),
        ],
      },
      {
        field: '/stirrer',
        name: 'Stirrer',
        kind: 'number',
        origin: 'controlled',
        unit: '%',
        range: { low: 0, high: 100 },
        control: stirrer,
      },
      {
        field: '/lid',
        name: 'Lid open',
        kind: 'switch',
        cadence: { by: 'event' },
        alarms: [
          stateAlarm('open', { by: 'state', values: [1], atLeast: 180 }, 'minor', {
            name: 'stands open',
            consequence: 'The stirrer does not start.',
            response: 'Close it.',
          }),
        ],
      },
    ],
  },
  speaks: 'http',
  obeys: { slowness: 1000, misses: 0.05 },
  period: 2 * second,
  historyPeriod: minute,
  message: (at) => {
    const milk = vatTemperature(at)
    const layers = 0.1 + layering(at) * 0.6
    const noisy = roll(seed + 9, at / second) * 0.6 + (roll(seed + 10, at / (2 * second)) > 0.97 ? 3 : 0)
    return {
      probes: {
        top: rounded(milk + layers + wander(seed, at, 0.4, 0.1, 0.012), 2),
        middle: rounded(milk + wander(seed + 20, at, 0.4, 0.1, 0.012), 2),
        bottom: rounded(milk - layers + wander(seed + 40, at, 0.4, 0.1, 0.012) + noisy, 2),
      },
      stirrer: isStirring(at) ? rounded(62 + drift(seed + 60, at, 40 * second) * 3, 0) : 0,
      lid: at % (6 * hour) < 4 * minute,
    }
  },
}
