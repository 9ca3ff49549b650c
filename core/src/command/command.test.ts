import fc from 'fast-check'
import { usualControl } from '../signal/control.ts'
import { readAnswer } from './answer.ts'
import { after, type CommandLife, type Happening, isOpen } from './command.ts'
import { type Circumstances, whyNot } from './interlock.ts'
import { answerIn, lineOf } from './serialLine.ts'
import { commandText } from './wire.ts'
import { wishProblem } from './wishProblem.ts'

const wish: CommandLife = {
  state: 'requested',
  value: 1,
  until: 60,
  sentAt: null,
  reported: null,
  answer: '',
}

const instant = fc.integer({ min: 0, max: 100 })
const value = fc.integer({ min: 0, max: 2 })
const happening = fc.oneof<fc.Arbitrary<Happening>[]>(
  fc.record({ kind: fc.constant('sent' as const), at: instant }),
  fc.record({ kind: fc.constant('report' as const), at: instant, value }),
  fc.record({
    kind: fc.constant('answer' as const),
    says: fc.constantFrom('done' as const, 'refused' as const, 'expired' as const),
    why: fc.constant(''),
  }),
  fc.record({ kind: fc.constant('forbidden' as const), why: fc.constant('the lid is open') }),
  fc.constant({ kind: 'replaced' as const }),
  fc.record({ kind: fc.constant('time' as const), at: instant }),
)

/** How a command ends, told from all that happened to it: looked at as a whole, not step by step. */
function endOf(all: readonly Happening[]): string {
  const sentAt = all.findIndex(({ kind }) => kind === 'sent')
  const sent = all[sentAt]
  const first = sent?.kind === 'sent' ? sent.at : Number.POSITIVE_INFINITY
  const counts = (each: Happening, place: number) => {
    if (each.kind === 'answer') return sentAt >= 0 && place > sentAt
    if (each.kind === 'report')
      return sentAt >= 0 && place > sentAt && each.at >= first && each.value === wish.value
    if (each.kind === 'time') return each.at > wish.until
    return each.kind === 'forbidden' || each.kind === 'replaced'
  }
  const place = all.findIndex(counts)
  const end = all[place]
  if (!end) return sentAt >= 0 ? 'sent' : 'requested'
  if (end.kind === 'report') return 'confirmed'
  if (end.kind === 'answer') return end.says === 'done' ? 'confirmed' : end.says
  if (end.kind === 'forbidden') return 'refused'
  if (end.kind === 'replaced') return 'expired'
  const before = all.slice(sentAt + 1, place)
  const other =
    sentAt >= 0 && sentAt < place && before.some((each) => each.kind === 'report' && each.at >= first)
  return other ? 'otherwise' : 'expired'
}

it('ends as all that happened to it says, and stays as it ended', () => {
  fc.assert(
    fc.property(fc.array(happening, { maxLength: 12 }), (all) => {
      let life = wish
      for (const each of all) {
        const next = after(life, each)
        if (!isOpen(life.state)) expect(next).toBe(life)
        life = next
      }
      expect(life.state).toBe(endOf(all))
    }),
    { numRuns: 2000 },
  )
})

it('is confirmed by a number that is as near as a step tells', () => {
  const dimmed = after({ ...wish, value: 40 }, { kind: 'sent', at: 1 })
  const reported = (value: number) => after(dimmed, { kind: 'report', at: 2, value }, 5).state
  expect([reported(42), reported(43), reported(40)]).toEqual(['confirmed', 'sent', 'confirmed'])
})

const control = usualControl
const signal = {
  name: 'Fogger',
  kind: 'number',
  origin: 'controlled',
  range: { low: 0, high: 100 },
  choices: [],
  control,
} as const

it.each([
  [{}, 50, undefined],
  [{}, 101, /up to 100; 101 is beyond/],
  [{}, 'x', /takes a number/],
  [{}, Number.NaN, /takes a number/],
  [{ control: { ...control, step: 0.1 } }, 0.3, undefined],
  [{ control: { ...control, step: 5 } }, 12, /steps of 5/],
  [{ range: { low: 3, high: null }, control: { ...control, step: 5 } }, 13, undefined],
  [{ origin: 'measured' }, 50, /is not controlled/],
  [{ kind: 'switch' }, 1, undefined],
  [{ kind: 'switch' }, 2, /0 for off or 1 for on/],
  [{ kind: 'momentary' }, 0, /it takes 1/],
  [{ kind: 'choice', choices: [{ code: 3, name: 'slow' }] }, 3, undefined],
  [{ kind: 'choice', choices: [{ code: 3, name: 'slow' }] }, 4, /one of 3 \(slow\)/],
  [{ kind: 'text' }, 'hello', undefined],
  [{ kind: 'text' }, 'x'.repeat(201), /at most 200/],
  [{ kind: 'position' }, 1, /is a position/],
] as const)('%j may be asked for %j: %s', (more, asked, problem) => {
  const told = wishProblem(asked, { ...signal, ...more })
  if (problem) expect(told).toMatch(problem)
  else expect(told).toBeUndefined()
})

describe('interlocks', () => {
  const lid = { says: 'the lid is open', formula: 'lid', inputs: [{ name: 'lid', named: 'Lid open' }] }
  const now: Circumstances = {
    kind: 'switch',
    value: 1,
    control: { ...control, unless: [lid], leastOff: 300, mostAnHour: 6 },
    changedWithin: () => false,
    sentInHour: 0,
    saidBy: () => 0,
  }
  it('let pass what nothing speaks against', () => expect(whyNot(now)).toBeUndefined())
  it.each([
    ['Not while the lid is open.', { saidBy: () => 1 }],
    ['Whether the lid is open is not known: Lid open says nothing just now.', { saidBy: () => undefined }],
    [
      'It has to stay off for 5 min before it is switched again.',
      { changedWithin: (s: number) => s === 300 },
    ],
    ['It was asked for 6 times in the last hour; more often it may not be.', { sentInHour: 6 }],
    [
      'Its condition "it is broken" cannot be understood',
      { control: { ...control, unless: [{ says: 'it is broken', formula: '1 +', inputs: [] }] } },
    ],
  ])('say why: %s', (why, more) => expect(whyNot({ ...now, ...more })).toContain(why))
  it('let it be switched off again at once where only off has to last', () =>
    expect(whyNot({ ...now, value: 0, changedWithin: () => true })).toBeUndefined())
})

it('says on the wire what boards take', () => {
  const told = { id: 17, value: 1, until: 5 }
  expect(commandText(told, 'switch', false)).toBe('{"id":17,"value":true,"until":5}')
  expect(commandText(told, 'switch', true)).toBe('true')
  expect(commandText({ ...told, value: 'hi' }, 'text', true)).toBe('hi')
  expect(commandText({ ...told, value: 2.5 }, 'number', true)).toBe('2.5')
})

it.each([
  ['{"id":17,"says":"done","value":true}', { id: 17, says: 'done', why: '', value: true }],
  [
    '{"id":17,"says":"refused","why":"too hot"}',
    { id: 17, says: 'refused', why: 'too hot', value: undefined },
  ],
  ['{"id":"x","says":"perhaps"}', { id: undefined, says: undefined, why: '', value: undefined }],
  ['{"id":9007199254740991,"says":"done"}', { id: undefined, says: 'done', why: '', value: undefined }],
  ['true', { id: undefined, says: undefined, why: '', value: true }],
  ['on', { id: undefined, says: undefined, why: '', value: 'on' }],
  ['[1]', { id: undefined, says: undefined, why: '', value: [1] }],
])('reads the answer %s', (text, read) => expect(readAnswer(text)).toEqual({ signal: undefined, ...read }))

it('goes down a cable as a line, and tells an answer from what is measured', () => {
  const told = { id: 17, value: 1, until: 5 }
  expect(lineOf('lamp/red', told, 'switch', false)).toBe(
    '{"set":"lamp/red","id":17,"value":true,"until":5}\n',
  )
  expect(lineOf('fogger', told, 'switch', true)).toBe('fogger=true\n')
  expect(answerIn('{"state":"fogger","id":17,"says":"done","value":true}')).toMatchObject({
    signal: 'fogger',
    id: 17,
  })
  for (const line of ['{"state":"idle","t":5}', '{"says":"done","id":1}', 'says=done', '{"says"'])
    expect(answerIn(line)).toBeUndefined()
})
