import type { Consumer } from '../afterCommit/consumers.ts'
import { committedBetween } from '../afterCommit/snapshots.ts'

/** Counts what came in at each site, by the minute it arrived in. */
export const countArrivals: Consumer = {
  name: 'arrivals',
  consume: async (client, { seen, now }) => {
    await client.query({
      name: 'count-arrivals',
      text: `
        insert into arrival_count (site_id, minute, readings)
        select device.site_id, floor(extract(epoch from turn.at) / 60)::int as minute, sum(turn.readings)
        from after_commit mark, unnest(mark.heard_signals, mark.heard_at, mark.heard) as turn (signal_id, at, readings)
          join signal on signal.id = turn.signal_id join device on device.id = signal.device_id
        where ${committedBetween(1)}
        group by 1, 2 order by 1, 2
        on conflict (site_id, minute) do update set readings = arrival_count.readings + excluded.readings`,
      values: [seen, now],
    })
  },
}
