import fc from 'fast-check'
import { Judge, newRuleState } from '../rule/index.ts'
import { type Alarm, untoldAlarm, usualSettings } from '../signal/index.ts'
import { alarmAddressOf, readAlarmAddress } from './alarmAddress.ts'
import { alarmsProblem } from './alarmProblem.ts'
import { levelOf } from './occasionLevel.ts'
import { findInputs, ruleOfSuppression } from './occasionRule.ts'
import { RecentSwing } from './recentSwing.ts'
import { rehearseLevel, silencesOf, unsuppressed } from './rehearseAlarm.ts'

const alarm: Alarm = {
  ...untoldAlarm,
  key: 'high',
  name: 'Too warm',
  occasion: { by: 'limit', limit: 'high' },
  priority: 'urgent',
}
const limits = { lowLow: null, low: null, high: 8, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }
const number = { ...usualSettings, kind: 'number', choices: [], limits } as const
const door = { ...usualSettings, kind: 'switch', choices: [] } as const

it.each([
  [[alarm, alarm], number, /Two alarms are known by "high"/],
  [[alarm], { ...number, limits: null }, /^Too warm: It is about the high limit, and none is stated/],
  [[{ ...alarm, key: 'Too High' }], number, /"Too High" cannot be/],
  [[{ ...alarm, occasion: { by: 'rate', most: 0, over: 60 } }], number, /more than 0/],
  [[{ ...alarm, occasion: { by: 'rate', most: 1, over: 60 } }], door, /Only a number can change too fast/],
  [[{ ...alarm, occasion: { by: 'state', values: [2], atLeast: 0 } }], door, /no state with the code 2/],
  [[{ ...alarm, occasion: { by: 'state', values: [1], atLeast: 1e9 } }], door, /at most a week/],
  [
    [{ ...alarm, occasion: { by: 'formula', formula: 'a >', inputs: [], atLeast: 0 } }],
    number,
    /at character/,
  ],
  [
    [{ ...alarm, unless: { says: 'it is washed', formula: 'b', inputs: [], after: 0 } }],
    number,
    /while it is washed: .*no signal is called "b"/,
  ],
] as const)('says what contradicts itself', (alarms, of, problem) => {
  expect(alarmsProblem(alarms as never, of)).toMatch(problem)
})

it('takes what is right', () => {
  const unless = {
    says: 'washed',
    formula: 'w == 1',
    inputs: [{ name: 'w', of: { named: 'Hose' } }],
    after: 600,
  }
  expect(
    alarmsProblem(
      [
        { ...alarm, unless },
        { ...alarm, key: 'silent', occasion: { by: 'silence', from: 'late', atLeast: 0 } },
      ],
      number,
    ),
  ).toBeUndefined()
})

it('reads the addresses it writes, and no others', () => {
  fc.assert(
    fc.property(
      fc.oneof(
        fc.record({ of: fc.constant('signal' as const), signal: fc.integer({ min: 1, max: 1e9 }) }),
        fc.record({ of: fc.constant('device' as const), device: fc.integer({ min: 1, max: 1e9 }) }),
        fc.record({ of: fc.constant('server' as const) }),
      ),
      fc.stringMatching(/^[a-z][a-z0-9-]{0,31}$/),
      (subject, key) => {
        expect(readAlarmAddress(alarmAddressOf({ ...subject, key }))).toEqual({ ...subject, key })
      },
    ),
  )
  for (const text of [
    '',
    '12',
    '.high',
    '0.high',
    '12.High',
    'device-.x',
    'x.high',
    '12.high.low',
    '12.high\n',
  ])
    expect(readAlarmAddress(text)).toBeUndefined()
})

it('knows how far a value has moved, as looking at all that was said within the span knows it', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 60 }),
      fc.array(fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: -50, max: 50 })), {
        maxLength: 200,
      }),
      (over, steps) => {
        const swing = new RecentSwing(over)
        const said: [number, number][] = []
        let at = 0
        for (const [gap, value] of steps) {
          at += gap * 1000
          said.push([at, value])
          const within = said
            .filter(([when]) => when >= at - over * 1000)
            .map(([, each]) => Math.abs(each - value))
          expect(swing.add(at, value)).toBe(Math.max(...within))
        }
      },
    ),
  )
})

const level = levelOf({ by: 'limit', limit: 'high' }, { ...limits, onDelay: 10 }, 0)

it('tries a limit on the past: within the span, also where it began before and goes on after', () => {
  if (!level) throw new Error('there is no such limit')
  const readings = [
    [-50, 9],
    [5, 7],
    [20, 9],
    [25, 7],
    [40, 9],
    [60, 12],
    [80, 7],
    [90, 9],
  ].map(([at = 0, value = 0]) => ({ at: at * 1000, value }))
  expect(rehearseLevel(level, readings, null, 0, 120_000)).toEqual([
    { from: 0, to: 5000, worst: 9 },
    { from: 50_000, to: 80_000, worst: 12 },
    { from: 100_000, to: 120_000, worst: 9 },
  ])
  // Where readings count for 5 s, nobody knows that it stayed so.
  expect(rehearseLevel(level, readings, 5000, 0, 120_000)).toEqual([])
})

it('finds silences', () => {
  const readings = [0, 10, 50, 60].map((at) => ({ at: at * 1000, value: 1 }))
  expect(silencesOf(readings, 15_000, 0, 100_000)).toEqual([
    { from: 25_000, to: 50_000, worst: null },
    { from: 75_000, to: 100_000, worst: null },
  ])
})

it('leaves out what is suppressed, as looking at every second does', () => {
  const stretches = fc
    .uniqueArray(fc.integer({ min: 0, max: 60 }), { maxLength: 20 })
    .map((edges) =>
      edges
        .sort((a, b) => a - b)
        .flatMap((from, place, all) =>
          place % 2 === 0 && all[place + 1] !== undefined ? [{ from, to: all[place + 1] as number }] : [],
        ),
    )
  const covers = (all: readonly { from: number; to: number }[], at: number) =>
    all.some(({ from, to }) => at >= from && at < to)
  fc.assert(
    fc.property(stretches, stretches, (active, suppressed) => {
      const left = unsuppressed(
        active.map((each) => ({ ...each, worst: null })),
        suppressed,
      )
      for (let at = 0; at <= 60; at++)
        expect(covers(left, at)).toBe(covers(active, at) && !covers(suppressed, at))
    }),
  )
})

it('suppresses while it holds and for a while after, and not by what nobody knows', () => {
  const rule = ruleOfSuppression({ says: '', formula: 'w == 1', inputs: [], after: 60 }, [
    { name: 'w', signal: 7 },
  ])
  const judge = new Judge(
    rule,
    { zone: 'UTC', place: null, countsFor: () => null },
    newRuleState,
    () => undefined,
  )
  const hear = (at: number, value: number | null) => judge.hear({ signal: 7, at, heardAt: at, value })
  hear(0, 1)
  expect(judge.isActing).toBe(true)
  hear(10_000, 0)
  judge.pass(69_999)
  expect(judge.isActing).toBe(true)
  judge.pass(70_000)
  expect(judge.isActing).toBe(false)
  hear(80_000, 1)
  hear(90_000, null)
  expect(judge.isActing).toBe(false)
})

it('finds signals by name at the device, and those of elsewhere by number', () => {
  const inputs = [
    { name: 'a', of: { named: 'Lid' } },
    { name: 'b', of: { signal: 9 } },
  ]
  expect(findInputs(inputs, (name) => (name === 'Lid' ? 4 : undefined))).toEqual([
    { name: 'a', signal: 4 },
    { name: 'b', signal: 9 },
  ])
  expect(findInputs(inputs, () => undefined)).toBeUndefined()
})
