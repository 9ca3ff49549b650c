import type { Consumer } from '../afterCommit/consumers.ts'
import { committedBetween } from '../afterCommit/snapshots.ts'

/** Keeps when each signal and each device was heard last, so that it outlives a restart and the messages themselves. */
export const keepHeard: Consumer = {
  name: 'presence',
  consume: async (client, { seen, now }) => {
    await client.query({
      name: 'keep-heard',
      text: `
        with heard_of as (
          select signal.id, signal.device_id, max(turn.at) as at
          from after_commit mark, unnest(mark.heard_signals, mark.heard_at) as turn (signal_id, at)
            join signal on signal.id = turn.signal_id
          where ${committedBetween(1)}
          group by signal.id
        ), kept as (
          insert into signal_heard (signal_id, at) select id, at from heard_of order by id
          on conflict (signal_id) do update set at = greatest(signal_heard.at, excluded.at)
        )
        insert into heard (device_id, at) select device_id, max(at) from heard_of group by device_id order by device_id
        on conflict (device_id) do update set at = greatest(heard.at, excluded.at)`,
      values: [seen, now],
    })
  },
}
