import type { Consumer } from '../afterCommit/consumers.ts'
import { committedBetween } from '../afterCommit/snapshots.ts'
import { ChangeKind } from '../readings/changeMarks.ts'

/** What looks back over hours need not be known within the second: it waits for so many thousandths of that. */
const thousandths = 0.3

const ms = (instant: string): string => `round(extract(epoch from ${instant}) * 1000)::float8`

/** Marks due what follows from readings that were touched: from each of them on, for as long as it can matter. */
export const dueDerived: Consumer = {
  name: 'derived',
  consume: async (client, { seen, now }) => {
    await client.query({
      name: 'mark-due-derived',
      // Of what was moved or removed by the hour, only the beginning of the hour is told.
      text: `
        insert into due_derived (signal_id, from_at, to_at, is_past, not_before)
        select link.signal_id, min(${ms('first_at')}),
          max(${ms('last_at')}) + max(link.reach) * 1000 + case when is_past then 3600000 else 0 end,
          is_past, now() + make_interval(secs => max(link.reach) * ${thousandths / 1000})
        from (
          select kind in (${ChangeKind.changed}, ${ChangeKind.fromThePast}) as is_past, signal_id, first_at, last_at
          from after_commit mark, unnest(mark.signals, mark.from_at, mark.to_at) as span (signal_id, first_at, last_at)
          where ${committedBetween(1)} and kind <> ${ChangeKind.signalsRemoved}
        ) touched join derived_input link on link.input_id = touched.signal_id
        group by link.signal_id, is_past, date_bin('1 hour', first_at, 'epoch')`,
      values: [seen, now],
    })
  },
}
