import type { RuleMode } from '@jaunty-sparrow/contract'
import type { ClockPlace, Rule, RuleState } from '@jaunty-sparrow/core/rule'
import type pg from 'pg'

/** A rule with how far it has come, and where it stands. */
export interface LoadedRule {
  readonly id: number
  readonly signalId: number
  readonly name: string
  readonly mode: RuleMode
  readonly rule: Rule
  /** Null where it has not been looked at since it was switched on or changed. */
  readonly state: RuleState | null
  readonly where: ClockPlace
}

interface Row extends Omit<LoadedRule, 'where'> {
  readonly zone: string
  readonly lat: number | null
  readonly lon: number | null
}

/** All that is done with rules is done by one server at a time. */
const ruleLock = 7_600_020

/** Waits until nobody else is at rules, until the transaction ends. */
export const lockRules = (client: pg.ClientBase): Promise<unknown> =>
  client.query('select pg_advisory_xact_lock($1)', [ruleLock])

/** The same where it is free. @returns whether it was */
export async function tryLockRules(client: pg.ClientBase): Promise<boolean> {
  const { rows } = await client.query<{ free: boolean }>('select pg_try_advisory_xact_lock($1) as free', [
    ruleLock,
  ])
  return rows[0]?.free ?? false
}

/**
 * Reads rules, those of a signal in the order in which they are obeyed.
 * @param which a condition over the tables `rule` and `rule_state`
 */
export async function loadRules(
  client: Pick<pg.ClientBase, 'query'>,
  which: string,
  values: readonly unknown[] = [],
): Promise<LoadedRule[]> {
  const { rows } = await client.query<Row>(
    `select rule.id, rule.signal_id as "signalId", rule.name, rule.mode, rule.rule, rule_state.state,
       site.time_zone as zone, site.lat, site.lon
     from rule join signal on signal.id = rule.signal_id join device on device.id = signal.device_id
       join site on site.id = device.site_id left join rule_state on rule_state.rule_id = rule.id
     where ${which} order by rule.signal_id, rule.place, rule.id`,
    [...values],
  )
  return rows.map(({ zone, lat, lon, ...row }) => ({
    ...row,
    where: { zone, place: lat === null || lon === null ? null : { lat, lon } },
  }))
}
