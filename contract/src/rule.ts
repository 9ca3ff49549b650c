import { constantPattern, longestFormula } from '@jaunty-sparrow/core/formula'
import {
  longestRuleTime,
  mostRuleInputs,
  type Rule as RuleInCore,
  safeStates,
} from '@jaunty-sparrow/core/rule'
import { type Static, Type } from '@sinclair/typebox'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'
import { SignalValue } from './signal.ts'

const closed = { additionalProperties: false }
const Id = Type.Integer({ minimum: 1, maximum: 2 ** 31 - 1 })
const At = Type.Union([Type.Integer(), Type.Null()])
const Seconds = Type.Number({ minimum: 0, maximum: longestRuleTime })

const Condition = Type.Object(
  {
    formula: Type.String({
      minLength: 1,
      maxLength: longestFormula,
      description:
        'Over the names of the inputs; it holds where it is not 0. docs/formulas.md has the language.',
    }),
    atLeast: Type.Number({
      minimum: 0,
      maximum: longestRuleTime,
      description: 'How long it has to hold without a break, seconds.',
    }),
  },
  closed,
)
const ClockMoment = Type.Object(
  {
    of: Type.Union([Type.Literal('midnight'), Type.Literal('sunrise'), Type.Literal('sunset')]),
    minutes: Type.Integer({
      minimum: -720,
      maximum: 1440,
      description: 'After it; before it where negative.',
    }),
  },
  closed,
)

/** What commands by itself. */
export const Rule = Type.Unsafe<RuleInCore>(
  Type.Object(
    {
      inputs: Type.Array(
        Type.Object(
          {
            name: Type.String({ pattern: constantPattern, description: 'What the formulas call it.' }),
            signal: Id,
          },
          closed,
        ),
        { maxItems: mostRuleInputs },
      ),
      when: Type.Union([Condition, Type.Null()], {
        description: 'When it begins to act; null where the clock alone says.',
      }),
      until: Type.Union([Condition, Type.Null()], {
        description: 'When it ends; null where it ends as soon as `when` holds no more.',
      }),
      clock: Type.Union(
        [
          Type.Object(
            {
              days: Type.Array(Type.Integer({ minimum: 1, maximum: 7 }), {
                uniqueItems: true,
                description: 'On which it begins, 1 for Monday.',
              }),
              from: ClockMoment,
              to: ClockMoment,
            },
            closed,
          ),
          Type.Null(),
        ],
        { description: 'The times it may act in, by the zone and the sun of its site; null for any.' },
      ),
      value: SignalValue,
      otherwise: Type.Union([SignalValue, Type.Null()], {
        description: 'What it asks for while it does not act; null where it leaves that to others.',
      }),
      leastOn: Seconds,
      leastOff: Seconds,
      mostAnHour: Type.Union([Type.Integer({ minimum: 1, maximum: 1000 }), Type.Null()]),
      whenUnknown: Type.Unsafe<(typeof safeStates)[number]>({
        type: 'string',
        enum: [...safeStates],
        description: 'What it does while an input is late, silent or at fault: act, rest, or stay as it is.',
      }),
      safeAfterAway: Type.Boolean({
        description:
          'Whether it knows nothing any more after the server was away, until its inputs are heard anew.',
      }),
    },
    closed,
  ),
)

/** Whether a rule is obeyed, only says what it would do, or does nothing. */
export const ruleModes = ['off', 'trial', 'on'] as const
export type RuleMode = (typeof ruleModes)[number]
const Mode = Type.Unsafe<RuleMode>({ type: 'string', enum: [...ruleModes] })

const Name = Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' })

/** A rule as it stands. Instants are epoch milliseconds. */
export const StandingRule = Type.Object({
  id: Type.Integer(),
  signalId: Type.Integer({ description: 'What it asks.' }),
  siteId: Type.Integer(),
  name: Type.String(),
  mode: Mode,
  rule: Rule,
  isActing: Type.Union([Type.Boolean(), Type.Null()], { description: 'Null while it never knew.' }),
  isUnknown: Type.Boolean({ description: 'Whether it is in its safe state, because nobody knows.' }),
  changedAt: At,
})
export type StandingRule = Static<typeof StandingRule>

/** What the rules of one signal come to. */
export const RuleHold = Type.Object({
  signalId: Type.Integer(),
  ruleId: Type.Union([Type.Integer(), Type.Null()], {
    description: 'The rule that holds it; null where none does.',
  }),
  wish: Type.Union([SignalValue, Type.Null()]),
  since: At,
  handFor: Type.Integer({ description: 'How long what a person asks for comes before the rules, seconds.' }),
  hand: Type.Union([Type.Object({ person: Type.String(), until: Type.Integer() }), Type.Null()], {
    description: 'Whose hand comes first just now.',
  }),
  problem: Type.String({ description: 'Why it was refused what it asked for last; empty where it was not.' }),
})
export type RuleHold = Static<typeof RuleHold>

/** What a rule did, and the values that caused it. */
export const RuleAct = Type.Object({
  id: Type.Integer(),
  at: Type.Integer(),
  kind: Type.Unsafe<'begins' | 'ends' | 'unknown' | 'known'>({
    type: 'string',
    enum: ['begins', 'ends', 'unknown', 'known'],
  }),
  isActing: Type.Union([Type.Boolean(), Type.Null()]),
  isTrial: Type.Boolean({ description: 'Whether it only said so.' }),
  because: Type.Array(
    Type.Object({
      signalId: Type.Integer(),
      name: Type.String(),
      value: Type.Union([Type.Number(), Type.Null()], { description: 'Null where nobody knew.' }),
      at: Type.Union([Type.Integer(), Type.Null()], { description: 'When that was measured.' }),
    }),
  ),
})
export type RuleAct = Static<typeof RuleAct>

const RuleId = Type.Object({ ruleId: Id })
const SignalId = Type.Object({ signalId: Id })

export const listRules = defineRoute({
  method: 'get',
  path: '/api/rules',
  summary: 'All rules, and what those of each signal come to',
  role: 'viewer',
  at: 'somewhere',
  response: Type.Object({ rules: Type.Array(StandingRule), holds: Type.Array(RuleHold) }),
  status: 200,
})

export const createRule = defineRoute({
  method: 'post',
  path: '/api/signals/{signalId}/rules',
  summary: 'Make a rule for a controlled signal: the last of its rules, and off at first',
  role: 'owner',
  at: 'signal',
  params: SignalId,
  body: Type.Object({ name: Name, rule: Rule }, closed),
  response: StandingRule,
  status: 201,
})

export const changeRule = defineRoute({
  method: 'put',
  path: '/api/rules/{ruleId}',
  summary: 'Change a rule: it begins anew',
  role: 'owner',
  at: 'rule',
  params: RuleId,
  body: Type.Object({ name: Name, rule: Rule }, closed),
  response: StandingRule,
  status: 200,
})

export const deleteRule = defineRoute({
  method: 'delete',
  path: '/api/rules/{ruleId}',
  summary: 'Delete a rule, with what it did',
  role: 'owner',
  at: 'rule',
  params: RuleId,
  status: 204,
})

export const switchRule = defineRoute({
  method: 'post',
  path: '/api/rules/{ruleId}/mode',
  summary: 'Switch a rule on or off, or let it only say what it would do',
  role: 'operator',
  at: 'rule',
  params: RuleId,
  body: Type.Object({ mode: Mode }, closed),
  response: StandingRule,
  status: 200,
})

export const listRuleActs = defineRoute({
  method: 'get',
  path: '/api/rules/{ruleId}/acts',
  summary: 'What a rule did or would have done, the newest first, at most a hundred',
  role: 'viewer',
  at: 'rule',
  params: RuleId,
  query: Type.Object({ before: Type.Optional(Id) }),
  response: Type.Array(RuleAct),
  status: 200,
})

export const orderRules = defineRoute({
  method: 'put',
  path: '/api/signals/{signalId}/rules',
  summary: 'Say in which order the rules of a signal are obeyed, and how long a hand comes before them',
  role: 'owner',
  at: 'signal',
  params: SignalId,
  body: Type.Object(
    {
      order: Type.Array(Id, { maxItems: 100, uniqueItems: true }),
      handFor: Type.Integer({ minimum: 0, maximum: 604_800 }),
    },
    closed,
  ),
  status: 204,
})

export const resumeRules = defineRoute({
  method: 'post',
  path: '/api/signals/{signalId}/rules/resume',
  summary: 'Give a signal back to its rules before the time of the hand is over',
  role: 'operator',
  at: 'signal',
  params: SignalId,
  status: 204,
})

const Stretch = Type.Object({
  from: Type.Integer(),
  to: Type.Integer(),
  isActing: Type.Union([Type.Boolean(), Type.Null()]),
  isUnknown: Type.Boolean(),
})

/** What a rule would have done. */
export const RuleTrial = Type.Object({
  problem: Type.Union([Type.String(), Type.Null()], {
    description: 'What contradicts itself; then nothing was tried.',
  }),
  begins: Type.Integer({ description: 'How often it would have begun.' }),
  seconds: Type.Number({ description: 'How long it would have acted in all.' }),
  longest: Type.Number({ description: 'The longest of it, seconds.' }),
  unknown: Type.Number({ description: 'How long nobody would have known, seconds.' }),
  stretches: Type.Array(Stretch, {
    description: 'How it would have been, at most two thousand; the rest is counted.',
  }),
  fights: Type.Array(
    Type.Object({
      from: Type.Integer(),
      to: Type.Integer(),
      holder: Type.Union([Type.String(), Type.Null()], {
        description: 'The rule that would have been obeyed; null is the one that is tried.',
      }),
      held: SignalValue,
      loser: Type.Union([Type.String(), Type.Null()]),
      wished: SignalValue,
    }),
    { description: 'Where it would have fought another rule of the signal, at most two hundred.' },
  ),
  fightsInAll: Type.Integer(),
})
export type RuleTrial = Static<typeof RuleTrial>

export const tryRule = defineRoute({
  method: 'post',
  path: '/api/signals/{signalId}/rules/trial',
  summary: 'See what a rule would have done over a span of the past, without switching it on',
  role: 'operator',
  at: 'signal',
  params: SignalId,
  body: Type.Object(
    {
      rule: Rule,
      from: Instant,
      to: Instant,
      ruleId: Type.Optional(Id),
    },
    closed,
  ),
  response: RuleTrial,
  status: 200,
})
