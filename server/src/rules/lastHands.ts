import type pg from 'pg'

/** Whose hand a signal is in, and until when (epoch ms): what a person asks for comes before its rules for a while. */
export interface Hand {
  readonly person: string
  readonly until: number
}

/** The signals that are in a hand at an instant, of some. @param now epoch ms */
export async function lastHands(
  client: Pick<pg.ClientBase, 'query'>,
  signals: readonly number[],
  now: number,
): Promise<Map<number, Hand>> {
  const { rows } = await client.query<Hand & { signal: number }>({
    name: 'hands-on-signals',
    text: `select hold.signal_id as signal, coalesce(hand.person_name, '') as person,
             round(extract(epoch from hand.requested_at) * 1000)::float8 + hold.hand_for * 1000 as until
           from rule_hold hold cross join lateral (
             select person_name, requested_at from command
             where signal_id = hold.signal_id and rule is null and state <> 'refused'
               and requested_at > to_timestamp($2::float8 / 1000) - make_interval(secs => hold.hand_for)
               and requested_at > coalesce(hold.resumed_at, '-infinity')
             order by requested_at desc limit 1) hand
           where hold.signal_id = any($1::int[])`,
    values: [[...signals], now],
  })
  return new Map(rows.map(({ signal, ...hand }) => [signal, hand]))
}
