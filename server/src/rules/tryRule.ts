import { setImmediate } from 'node:timers/promises'
import type { RuleTrial } from '@jaunty-sparrow/contract'
import { contest, type Rehearsal, type Rule, rehearse, ruleProblem } from '@jaunty-sparrow/core/rule'
import max from 'lodash-es/max.js'
import type pg from 'pg'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { type LoadedRule, loadRules } from './loadRules.ts'
import { countsThen, pastOf } from './pastOfSignals.ts'
import type { RuleInputs } from './ruleInputs.ts'

const mostStretches = 2000
const mostFights = 200

interface Tried {
  readonly signalId: number
  readonly rule: Rule
  /** Which of the rules of the signal it would be instead of; the last where it is none. */
  readonly ruleId: number | undefined
  readonly from: number
  readonly to: number
}

interface TryParts {
  readonly pool: pg.Pool
  readonly registry: DeviceRegistry
  readonly inputs: RuleInputs
}

/** Runs a rule over the past, together with the others of its signal that are on. */
export async function tryRule(
  { pool, registry, inputs }: TryParts,
  { signalId, rule, ruleId, from, to }: Tried,
): Promise<RuleTrial> {
  const problem = ruleProblem(rule)
  const nothing = { begins: 0, seconds: 0, longest: 0, unknown: 0, stretches: [], fights: [], fightsInAll: 0 }
  if (problem !== undefined) return { problem, ...nothing }
  const site = await whereIs(pool, signalId)
  const tried: LoadedRule = {
    id: ruleId ?? 0,
    signalId,
    name: '',
    mode: 'trial',
    rule,
    state: null,
    where: site,
  }
  const there = await loadRules(pool, `rule.signal_id = $1 and (rule.mode = 'on' or rule.id = $2)`, [
    signalId,
    tried.id,
  ])
  const rules =
    ruleId === undefined ? [...there, tried] : there.map((each) => (each.id === ruleId ? tried : each))
  const signals = [...new Set(rules.flatMap(({ rule: each }) => each.inputs.map((input) => input.signal)))]
  const histories = await pastOf({ pool, inputs }, signals, from, to)
  const counts = new Map(
    Array.from(histories, ([signal, { readings }]) => [
      signal,
      countsThen({ registry, inputs }, signal, readings),
    ]),
  )
  const countsFor = (signal: number) => counts.get(signal) ?? null
  const rehearsals: { readonly rule: LoadedRule; readonly rehearsal: Rehearsal }[] = []
  for (const each of rules) {
    const own = each.rule.inputs.flatMap(({ signal }) => histories.get(signal) ?? [])
    const run = rehearse(each.rule, { ...each.where, countsFor }, own, from, to)
    let step = run.next()
    while (!step.done) {
      await setImmediate()
      step = run.next()
    }
    rehearsals.push({ rule: each, rehearsal: step.value })
  }
  const own = rehearsals.find((each) => each.rule === tried)?.rehearsal
  const stretches = own?.stretches ?? []
  const fights = contest(
    rehearsals.map(({ rule: who, rehearsal }) => ({ who, rule: who.rule, stretches: rehearsal.stretches })),
  ).filter(({ holder, loser }) => holder === tried || loser === tried)
  const nameOf = (who: LoadedRule) => (who === tried ? null : who.name)
  const acting = stretches.filter(({ isActing }) => isActing).map((each) => (each.to - each.from) / 1000)
  return {
    problem: null,
    begins: own?.acts.filter(({ kind }) => kind === 'begins').length ?? 0,
    seconds: acting.reduce((sum, each) => sum + each, 0),
    longest: max(acting) ?? 0,
    unknown: stretches
      .filter(({ isUnknown }) => isUnknown)
      .reduce((sum, each) => sum + (each.to - each.from) / 1000, 0),
    stretches: stretches.slice(-mostStretches),
    fights: fights
      .slice(-mostFights)
      .map((fight) => ({ ...fight, holder: nameOf(fight.holder), loser: nameOf(fight.loser) })),
    fightsInAll: fights.length,
  }
}

async function whereIs(pool: pg.Pool, signalId: number): Promise<LoadedRule['where']> {
  const { rows } = await pool.query<{ zone: string; lat: number | null; lon: number | null }>(
    `select site.time_zone as zone, site.lat, site.lon from signal join device on device.id = signal.device_id
       join site on site.id = device.site_id where signal.id = $1`,
    [signalId],
  )
  const [found] = rows
  if (!found) throw new ProblemError('not-found', 'There is no such signal.')
  const { zone, lat, lon } = found
  return { zone, place: lat === null || lon === null ? null : { lat, lon } }
}
