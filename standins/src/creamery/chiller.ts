import { roll, seedOf } from '../noise.ts'
import { rounded, wander } from './signalCourse.ts'
import type { StandIn } from './standIn.ts'
import { stateAlarm } from './stateAlarm.ts'
import { hour, minute, second } from './story.ts'

const seed = seedOf('chiller')

/** The compressor runs twelve minutes out of twenty-one. */
const turn = 21 * minute
const running = 12 * minute

/** Amperes: a rush at the start, then falling a little as it gets colder. */
function current(inTurn: number): number {
  if (inTurn >= running) return 0
  return 6.1 + 9 * Math.exp(-inTurn / second) + 0.9 * Math.exp(-inTurn / (4 * minute))
}

function evaporator(inTurn: number): number {
  const cold = -13
  const warm = -3
  if (inTurn < running) return cold + (warm - cold) * Math.exp(-inTurn / (3 * minute))
  return warm + (cold - warm) * Math.exp(-(inTurn - running) / (4 * minute))
}

/** The chiller in the plant room. Its node has no network of its own; it speaks to the gateway by radio. */
export const chiller: StandIn = {
  name: 'Chiller',
  address: 'chiller',
  kit: {
    name: 'Chiller node',
    cadence: { by: 'always', seconds: 5 },
    signals: [
      {
        field: '/current',
        name: 'Compressor current',
        kind: 'number',
        unit: 'A',
        range: { low: 0, high: 30 },
      },
      {
        field: '/evaporator',
        name: 'Evaporator',
        kind: 'number',
        unit: 'Cel',
        range: { low: -40, high: 60 },
        limits: {
          lowLow: null,
          low: null,
          high: -6,
          highHigh: null,
          deadband: 0.5,
          onDelay: 60,
          offDelay: 0,
        },
        alarms: [
          stateAlarm('high', { by: 'limit', limit: 'high' }, 'minor', {
            cause: 'The compressor rests, or frost keeps the cold back.',
            consequence: 'The store warms up slowly.',
            response: 'Nothing while the compressor runs; defrost when it does not get colder.',
            timeToAct: 4 * 3600,
          }),
        ],
      },
      {
        field: '/state',
        name: 'State',
        kind: 'choice',
        choices: [
          { code: 0, name: 'resting' },
          { code: 1, name: 'cooling' },
          { code: 2, name: 'defrosting' },
        ],
      },
      {
        field: '/door',
        name: 'Door open',
        kind: 'switch',
        cadence: { by: 'event' },
        alarms: [
          stateAlarm('open', { by: 'state', values: [1], atLeast: 120 }, 'important', {
            name: 'stands open',
            cause: 'Somebody carried something in or out.',
            consequence: 'The evaporator freezes over.',
            response: 'Close it.',
            timeToAct: 900,
          }),
        ],
      },
    ],
  },
  speaks: 'radio',
  period: 5 * second,
  historyPeriod: minute,
  message: (at) => {
    const inTurn = at % turn
    return {
      current: rounded(Math.max(0, current(inTurn) + roll(seed, at / second) * 0.05), 2),
      evaporator: rounded(evaporator(inTurn) + wander(seed + 10, at, 0.4, 0.15, 0.04), 1),
      state: inTurn < running ? 'cooling' : inTurn < running + 3 * minute ? 'defrosting' : 'resting',
      door: at % (2 * hour) < 3 * minute,
    }
  },
}
