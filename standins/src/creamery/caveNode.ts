import { usualControl } from '@jaunty-sparrow/core/signal'
import { drift, seedOf } from '../noise.ts'
import { dayAngle, rounded, wander } from './signalCourse.ts'
import type { KitDescription, StandIn } from './standIn.ts'
import { stateAlarm } from './stateAlarm.ts'
import { day, hour, isWithin, minute, second, swell } from './story.ts'

const none = { lowLow: null, low: null, high: null, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }

const usual = { ...usualControl, unless: [] }
const isWet = { says: 'the air is wet', formula: 'a > 97', inputs: [{ name: 'a', named: 'Humidity' }] }
/** Relays wear out: what was switched off stays so for a while. */
const fogger = { ...usual, leastOff: 60, mostAnHour: 30, unless: [isWet] }
const fan = { ...usual, leastOff: 60 }

/** Both caves are watched by the same kind of node: one kit, so a change to it reaches both. */
const caveKit: KitDescription = {
  name: 'Cave node',
  cadence: { by: 'always', seconds: 30 },
  signals: [
    {
      field: '/temperature',
      name: 'Temperature',
      kind: 'number',
      unit: 'Cel',
      range: { low: -20, high: 60 },
      limits: { ...none, low: 8, high: 15, deadband: 0.3, onDelay: 300 },
      alarms: [
        stateAlarm('high', { by: 'limit', limit: 'high' }, 'important', {
          cause: 'The door stands open, or the cooling has stopped.',
          consequence: 'Above 15 °C the wheels sweat fat within a day.',
          response: 'Close the door; see whether the chiller runs.',
          timeToAct: 4 * 3600,
          unless: {
            says: 'the cave is being aired',
            formula: 'fan == 1',
            inputs: [{ name: 'fan', of: { named: 'Fan' } }],
            after: 600,
          },
        }),
        stateAlarm('silence', { by: 'silence', from: 'silent', atLeast: 120 }, 'important', {
          cause: 'The node has no power, or no network.',
          consequence: 'Nobody knows how the cave is.',
          response: 'Look at the lamp of the node; go there with a thermometer.',
        }),
      ],
    },
    {
      field: '/humidity',
      name: 'Humidity',
      kind: 'number',
      unit: '%',
      range: { low: 0, high: 100 },
      shown: { low: 70, high: 100 },
      limits: { ...none, low: 82, high: 98, deadband: 1, onDelay: 600 },
      alarms: [
        stateAlarm('low', { by: 'limit', limit: 'low' }, 'urgent', {
          reason: 'a batch is lost by it within hours',
          cause: 'The fogger has stopped, or the door stands open.',
          consequence: 'Below 82 % the rinds crack.',
          response: 'Look whether the fogger runs; close the door.',
          timeToAct: 2 * 3600,
        }),
      ],
    },
    {
      field: '/co2',
      name: 'CO₂',
      kind: 'number',
      unit: '[ppm]',
      range: { low: 0, high: 10000 },
      limits: { ...none, high: 2000, deadband: 50, onDelay: 300 },
    },
    {
      field: '/nh3',
      name: 'Ammonia',
      kind: 'number',
      unit: '[ppm]',
      range: { low: 0, high: 100 },
      limits: { ...none, high: 10, deadband: 0.5, onDelay: 300 },
      alarms: [
        stateAlarm('high', { by: 'limit', limit: 'high' }, 'urgent', {
          reason: 'somebody may be in there',
          cause: 'Ripening runs too fast, or the fan stands still.',
          consequence: 'Above 10 ppm nobody should stay in the cave.',
          response: 'Air the cave before anybody goes in.',
          timeToAct: 1800,
          isLatching: true,
        }),
      ],
    },
    {
      field: '/fogger',
      name: 'Fogger',
      kind: 'switch',
      origin: 'controlled',
      group: 'Relays',
      control: fogger,
    },
    { field: '/fan', name: 'Fan', kind: 'switch', origin: 'controlled', group: 'Relays', control: fan },
    {
      field: '',
      name: 'Dew point',
      kind: 'number',
      unit: 'Cel',
      decimals: 1,
      origin: 'derived',
      derivation: {
        formula: 'dew_point(air, humidity)',
        inputs: [
          { name: 'air', of: { named: 'Temperature' }, take: { by: 'last' }, ageLimit: 300 },
          { name: 'humidity', of: { named: 'Humidity' }, take: { by: 'last' }, ageLimit: 300 },
        ],
      },
    },
    {
      field: '',
      name: 'Fogged today',
      kind: 'number',
      unit: 'h',
      decimals: 1,
      origin: 'derived',
      group: 'Relays',
      derivation: {
        formula: 'hours',
        inputs: [
          {
            name: 'hours',
            of: { named: 'Fogger' },
            take: { by: 'timeAbove', over: 'day', per: 'h', bound: 0.5 },
            ageLimit: 300,
          },
        ],
      },
    },
  ],
}

interface Cave {
  readonly name: string
  readonly address: string
  readonly temperature: number
  readonly humidity: number
  readonly doorLeftOpen: boolean
  readonly probeDrifts: boolean
  readonly fanSticks: boolean
}

function caveNode({
  name,
  address,
  temperature,
  humidity,
  doorLeftOpen,
  probeDrifts,
  fanSticks,
}: Cave): StandIn {
  const seed = seedOf(address)
  return {
    name,
    address,
    kit: caveKit,
    speaks: 'mqtt',
    obeys: { slowness: 1500, misses: 0.1, ...(fanSticks && { stuck: ['fan'] }) },
    period: 30 * second,
    historyPeriod: minute,
    message: (at, story) => {
      const door = doorLeftOpen ? swell(at, story.openDoor, 2 * hour, 3 * hour) : 0
      const steam = Math.max(...story.washDowns.map((wash) => swell(at, wash, 6 * minute, 25 * minute)))
      const work = Math.max(0, Math.sin(dayAngle(at) - 1.6))
      const driftDays = probeDrifts ? Math.max(0, at - story.humidityDriftFrom) / day : 0
      const fogging = drift(seed + 5, at, 18 * minute)
      return {
        temperature: rounded(temperature + door * 2.8 + steam * 1.9 + wander(seed, at, 0.25, 0.08, 0.02), 2),
        humidity: rounded(
          Math.min(
            100,
            humidity -
              door * 17 +
              steam * 6 +
              fogging * 1.4 +
              driftDays * 0.35 +
              wander(seed + 30, at, 1, 0.3, 0.1),
          ),
          1,
        ),
        co2: rounded(820 - door * 310 + work * 260 + wander(seed + 60, at, 90, 25, 6), 0),
        fogger: fogging > 0.35,
        fan: work > 0.4 || isWithin(at % (20 * minute), { from: 0, to: 4 * minute }),
        nh3: rounded(Math.max(0, 3.4 - door * 2 + wander(seed + 90, at, 0.7, 0.2, 0.05)), 2),
      }
    },
  }
}

export const cave1 = caveNode({
  name: 'Cave 1, soft rinds',
  address: 'cave-1',
  temperature: 11.6,
  humidity: 93,
  doorLeftOpen: true,
  probeDrifts: false,
  fanSticks: false,
})

export const cave2 = caveNode({
  name: 'Cave 2, hard wheels',
  address: 'cave-2',
  temperature: 12.8,
  humidity: 84,
  doorLeftOpen: false,
  probeDrifts: true,
  fanSticks: true,
})

export const cave3 = caveNode({
  name: 'Cave 3, blue',
  address: 'cave-3',
  temperature: 9.8,
  humidity: 91,
  doorLeftOpen: false,
  probeDrifts: false,
  fanSticks: false,
})
