import fc from 'fast-check'
import { Judge, newRuleState, type RuleAct, type RuleState, type RuleSurroundings } from './judge.ts'
import { rehearse } from './rehearse.ts'
import type { Rule, SafeState } from './rule.ts'

const second = 1000
const damp = 1
const lid = 2
const countsFor = 20
const around: RuleSurroundings = { zone: 'UTC', place: null, countsFor: () => countsFor * second }

const fogger: Rule = {
  inputs: [
    { name: 'damp', signal: damp },
    { name: 'lid', signal: lid },
  ],
  when: { formula: 'damp < 5 && lid == 0', atLeast: 0 },
  until: { formula: 'damp > 7', atLeast: 0 },
  clock: null,
  value: 1,
  otherwise: 0,
  leastOn: 0,
  leastOff: 0,
  mostAnHour: null,
  whenUnknown: 'rest',
  safeAfterAway: false,
}

interface Reading {
  readonly signal: number
  readonly at: number
  readonly value: number | null
}

const whole = (max: number) => fc.integer({ min: 0, max })
const rules = fc
  .record({
    whenFor: whole(6),
    untilFor: whole(6),
    hasUntil: fc.boolean(),
    leastOn: whole(15),
    leastOff: whole(15),
    mostAnHour: fc.option(fc.integer({ min: 1, max: 3 })),
    whenUnknown: fc.constantFrom<SafeState>('act', 'rest', 'stay'),
  })
  .map(
    ({ whenFor, untilFor, hasUntil, ...rest }): Rule => ({
      ...fogger,
      ...rest,
      when: { formula: 'damp < 5 && lid == 0', atLeast: whenFor },
      until: hasUntil ? { formula: 'damp > 7', atLeast: untilFor } : null,
    }),
  )
const end = 240
const readings = fc
  .uniqueArray(
    fc.record({
      signal: fc.constantFrom(damp, lid),
      at: fc.integer({ min: 1, max: end - 1 }),
      value: fc.option(whole(10), { freq: 12 }),
    }),
    { maxLength: 60, selector: ({ signal, at }) => `${signal} ${at}` },
  )
  .map((all) =>
    all
      .map((each) => (each.signal === lid && each.value !== null ? { ...each, value: each.value % 2 } : each))
      .sort((a, b) => a.at - b.at || a.signal - b.signal),
  )

/**
 * What a rule does, second by second, each looked at with all that was said before: no timers, and nothing that has to be woken.
 * Where several are said in one second they are looked at one after the other, as they are when judged.
 */
function slowly(rule: Rule, all: readonly Reading[]): string[] {
  const did: string[] = []
  let isActing: boolean | null = null
  let isUnknown = false
  let changed: number | null = null
  let begun: number[] = []
  let when: number | null = null
  let until: number | null = null
  const look = (at: number, heard: readonly Reading[]) => {
    const said = (signal: number) => {
      const last = heard.filter((each) => each.signal === signal).at(-1)
      return last && last.value !== null && at - last.at < countsFor ? last.value : undefined
    }
    const [d, l] = [said(damp), said(lid)]
    if (d === undefined || l === undefined) {
      when = until = null
      if (isUnknown) return
      isUnknown = true
      const safe = rule.whenUnknown === 'stay' ? isActing : rule.whenUnknown === 'act'
      if (safe !== isActing) {
        changed = at
        if (safe) begun.push(at)
      }
      isActing = safe
      did.push(`${at} unknown ${isActing}`)
      return
    }
    if (isUnknown) did.push(`${at} known ${isActing}`)
    isUnknown = false
    when = d < 5 && l === 0 ? (when ?? at) : null
    until = rule.until && d > 7 ? (until ?? at) : null
    begun = begun.filter((each) => at - each < 3600)
    const rested = (least: number) => changed === null || at - changed >= least
    if (isActing) {
      const over = rule.until ? until !== null && at - until >= rule.until.atLeast : when === null
      if (!over || !rested(rule.leastOn)) return
      isActing = false
    } else {
      isActing = false
      const begins = until === null && when !== null && at - when >= (rule.when?.atLeast ?? 0)
      if (!begins || !rested(rule.leastOff) || begun.length >= (rule.mostAnHour ?? 999)) return
      isActing = true
      begun.push(at)
    }
    changed = at
    did.push(`${at} ${isActing ? 'begins' : 'ends'} ${isActing}`)
  }
  for (let at = 0; at < end; at++) {
    // What falls due in this second does so before something is said in it; both may come to the same.
    look(
      at,
      all.filter((each) => each.at < at),
    )
    for (let place = 0; place < all.length; place++)
      if (all[place]?.at === at) look(at, all.slice(0, place + 1))
  }
  return did
}

const inWords = ({ at, kind, isActing }: RuleAct) => `${at / second} ${kind} ${isActing}`

/** Judges the same as it is judged in earnest: woken where it asks for it, and between any two written down and read again. */
function judged(rule: Rule, all: readonly Reading[]): string[] {
  const did: string[] = []
  let state: RuleState = newRuleState
  const step = (work: (judge: Judge) => void) => {
    const judge = new Judge(rule, around, JSON.parse(JSON.stringify(state)), (act) => did.push(inWords(act)))
    work(judge)
    state = judge.state()
  }
  step((judge) => judge.pass(0))
  for (const { at, ...said } of all)
    step((judge) => judge.hear({ ...said, at: at * second, heardAt: at * second }))
  step((judge) => judge.pass((end - 1) * second))
  return did
}

it('does what a look at every second with all that was said before would do, also when it is stopped in between', () => {
  fc.assert(
    fc.property(rules, readings, (rule, all) => expect(judged(rule, all)).toEqual(slowly(rule, all))),
    { numRuns: 600 },
  )
})

it('comes to the same when it is run over what was', () => {
  fc.assert(
    fc.property(rules, readings, (rule, all) => {
      const histories = [damp, lid].map((signal) => ({
        signal,
        readings: all.flatMap((each) =>
          each.signal === signal ? [{ at: each.at * second, value: each.value }] : [],
        ),
      }))
      const run = rehearse(rule, around, histories, 0, end * second)
      let step = run.next()
      while (!step.done) step = run.next()
      const { acts, stretches } = step.value
      expect(acts.map(inWords)).toEqual(slowly(rule, all))
      expect(stretches.every((each, place) => each.from === (stretches[place - 1]?.to ?? 0))).toBe(true)
    }),
  )
})

describe('what comes late', () => {
  const heard = (judge: Judge, at: number, value: number, heardAt = at) =>
    judge.hear({ signal: damp, at: at * second, heardAt: heardAt * second, value })
  const rule: Rule = {
    ...fogger,
    inputs: [{ name: 'damp', signal: damp }],
    when: { formula: 'damp < 5', atLeast: 10 },
    until: null,
  }

  it('acts by when it was measured, within the time it may take', () => {
    const acts: RuleAct[] = []
    const judge = new Judge(rule, around, newRuleState, (act) => acts.push(act))
    heard(judge, 100, 9)
    judge.pass(115_000)
    expect(heard(judge, 104, 3, 116)).toBe(true)
    judge.pass(116_000)
    expect(acts.map(inWords)).toEqual(['100 unknown false', '100 known false', '114 begins true'])
  })

  it('never acts where something newer was judged, or it was too long on its way', () => {
    const judge = new Judge(rule, around, newRuleState, () => undefined)
    heard(judge, 100, 9)
    expect(heard(judge, 99, 3)).toBe(false)
    expect(heard(judge, 100, 3)).toBe(false)
    expect(heard(judge, 101, 3, 101 + countsFor + 10)).toBe(true)
    expect(heard(judge, 102, 3, 102 + countsFor + 11)).toBe(false)
  })

  it('is not to come: a clock that is ahead does not carry the rule along', () => {
    const judge = new Judge(rule, around, newRuleState, () => undefined)
    judge.hear({ signal: damp, at: 900_000, heardAt: 100_000, value: 9 })
    expect(judge.state().judgedTo).toBe(100_000)
  })
})

describe('going on after nobody looked', () => {
  const lastly = (rule: Rule, at: number, ...more: readonly Reading[]) => {
    const acts: string[] = []
    const judge = new Judge(rule, around, newRuleState, (act) => acts.push(inWords(act)))
    judge.pass(0)
    for (const signal of [damp, lid]) judge.hear({ signal, at: 1_000, heardAt: 1_000, value: 0 })
    acts.length = 0
    judge.goOn(at * second)
    for (const each of more) judge.hear({ ...each, at: each.at * second, heardAt: each.at * second })
    return acts
  }
  const steady = { ...fogger, whenUnknown: 'stay' as const }

  it('does at once what is so now, and nothing of what fell due between', () => {
    expect(lastly(fogger, 1000)).toEqual(['1000 unknown false'])
    expect(lastly(steady, 1000)).toEqual(['1000 unknown true'])
    expect(lastly(steady, 10)).toEqual([])
  })

  it('knows nothing any more where that was asked for', () => {
    expect(lastly({ ...fogger, safeAfterAway: true }, 10)).toEqual(['10 unknown false'])
  })

  it('hears again at once when the clock was set back', () => {
    const rule = { ...steady, leastOn: 30 }
    expect(
      lastly(rule, -3600, { signal: damp, at: -3599, value: 9 }, { signal: lid, at: -3598, value: 0 }),
    ).toEqual(['-3600 unknown true', '-3598 known true'])
  })
})
