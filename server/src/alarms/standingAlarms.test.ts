import type { StandingAlarm } from '@jaunty-sparrow/contract'
import type { Alarm } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { inOrder, withCauses } from './standingAlarms.ts'

/** Two boards speak through a gateway. */
const devices = [
  {
    id: 1,
    address: 'gateway',
    claims: [
      { by: 'topic', pattern: 'plant/a', device: 'a', part: '' },
      { by: 'topic', pattern: 'plant/b', device: 'b', part: '' },
    ],
  },
  { id: 2, address: 'a', claims: [] },
  { id: 3, address: 'b', claims: [] },
]
const registry = {
  all: () => devices.values(),
  get: (address: string) => devices.find((device) => device.address === address),
} as unknown as DeviceRegistry

const alarm = (id: string, occasion: Alarm['occasion'], more: Partial<StandingAlarm> = {}): StandingAlarm =>
  ({
    id,
    alarm: { occasion },
    signalId: 10,
    deviceId: 2,
    state: 'unacknowledged',
    isActive: true,
    causedBy: null,
    raisedAt: 100,
    ...more,
  }) as StandingAlarm
const causes = (alarms: readonly StandingAlarm[]) =>
  Object.fromEntries(withCauses(alarms, registry).map(({ id, causedBy }) => [id, causedBy]))
const silence = { by: 'silence', from: 'silent', atLeast: 0 } as const

it('explains the inner limit by the outer one of the same side of the same signal', () => {
  const limit = (which: 'low' | 'lowLow' | 'high') => ({ by: 'limit', limit: which }) as const
  expect(
    causes([
      alarm('low', limit('low')),
      alarm('low-low', limit('lowLow'), { raisedAt: 200 }),
      alarm('high', limit('high')),
      alarm('other', limit('low'), { signalId: 11 }),
    ]),
  ).toEqual({ low: 'low-low', 'low-low': null, high: null, other: null })
})

it('explains the silence of all that a gateway speaks for by its own', () => {
  const all = [
    alarm('a', silence, { deviceId: 2, signalId: 20 }),
    alarm('b', silence, { deviceId: 3, signalId: 30, raisedAt: 90 }),
    alarm('gateway', silence, { deviceId: 1, signalId: null, raisedAt: 150 }),
  ]
  expect(causes(all)).toEqual({ a: 'gateway', b: 'gateway', gateway: null })
  // Where the gateway speaks, each is silent by itself.
  expect(causes(all.slice(0, 2))).toEqual({ a: null, b: null })
})

it('explains the silence of several signals of a device by the one that was noticed first', () => {
  expect(
    causes([
      alarm('late', silence, { signalId: 21, raisedAt: 200 }),
      alarm('first', silence, { signalId: 20 }),
    ]),
  ).toEqual({ late: 'first', first: null })
})

it('explains nothing by what is over, or set aside', () => {
  const outer = { by: 'limit', limit: 'highHigh' } as const
  const inner = alarm('high', { by: 'limit', limit: 'high' })
  expect(causes([inner, alarm('hh', outer, { isActive: false, state: 'returned' })]).high).toBeNull()
  expect(causes([inner, alarm('hh', outer, { state: 'shelved' })]).high).toBeNull()
})

it('tells first what waits for a word, of that the newest', () => {
  const of = (id: string, state: StandingAlarm['state'], raisedAt: number) =>
    alarm(id, silence, { state, raisedAt })
  const told = inOrder([
    of('shelved', 'shelved', 900),
    of('older', 'unacknowledged', 100),
    of('seen', 'acknowledged', 800),
    of('over', 'returned', 700),
    of('newer', 'unacknowledged', 200),
  ])
  expect(told.map(({ id }) => id)).toEqual(['newer', 'older', 'over', 'seen', 'shelved'])
})
