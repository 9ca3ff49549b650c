import { bucketsPerPage, levels } from '@jaunty-sparrow/core/rollup'
import type { Consumer } from '../afterCommit/consumers.ts'
import { committedBetween } from '../afterCommit/snapshots.ts'
import { ChangeKind } from '../readings/changeMarks.ts'

/** The pages of the finest level are so long, s. */
export const pageSeconds = (levels[0] * bucketsPerPage) / 1000

/** That it is touched again is taken down this often, s, and not with every reading. */
export const touchedEvery = 30

/** The page that an instant is on. @param instant an expression */
export const pageAt = (instant: string): string =>
  `floor(extract(epoch from ${instant}) / ${pageSeconds})::int`

/** Marks the pages due whose readings were touched. What rests in the finest one is built into all others from there. */
export const duePages: Consumer = {
  name: 'rollups',
  consume: async (client, { seen, now }) => {
    await client.query({
      name: 'mark-due-pages',
      text: `
        with touched as (
          select distinct signal_id, first_at, last_at
          from after_commit mark, unnest(mark.signals, mark.from_at, mark.to_at) as span (signal_id, first_at, last_at)
          where ${committedBetween(1)} and mark.kind <> ${ChangeKind.signalsRemoved})
        insert into due_page (signal_id, page, since)
        select distinct touched.signal_id, page, now()
        from touched
          join signal on signal.id = touched.signal_id
          join signal_definition on signal_definition.id = signal.definition_id and kind in ('number', 'switch', 'choice', 'position')
          cross join lateral generate_series(${pageAt('first_at')}, ${pageAt('last_at')}) as page
        order by 1, 2
        on conflict (signal_id, page) do update set since = excluded.since
          where due_page.since < excluded.since - make_interval(secs => ${touchedEvery})`,
      values: [seen, now],
    })
  },
}
