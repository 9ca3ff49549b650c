import type { Command } from '@jaunty-sparrow/contract'
import type { Happening } from '@jaunty-sparrow/core/command'
import { inArray } from 'drizzle-orm'
import { drizzle } from 'drizzle-orm/node-postgres'
import type { Consumer } from '../afterCommit/consumers.ts'
import { committedBetween } from '../afterCommit/snapshots.ts'
import type { ReadingStore } from '../readings/readingStore.ts'
import { command } from '../store/schema.ts'
import { happened, openCommands } from './commandStore.ts'

interface ConfirmParts {
  readonly now: () => number
  readonly stepOf: (signal: number) => number | null
  /** The readings of signals in a span, the oldest first. */
  readonly readings: Pick<ReadingStore, 'last'>
  /** Told of commands that are otherwise now; what it does holds only once the transaction does. */
  readonly changed: (commands: readonly Command[]) => void
}

/** So many reports of a signal since it was told something are looked at. */
const mostReports = 500

/** Sees in what devices report whether they did what was asked. What a person brings from the past confirms nothing: it has no mark. */
export const confirmCommands = ({ now, stepOf, readings, changed }: ConfirmParts): Consumer => ({
  name: 'commands',
  consume: async (client, { seen, now: until }) => {
    const { rows: heard } = await client.query<{ signal_id: number }>({
      name: 'heard-of-commanded',
      text: `
        select distinct turn.signal_id
        from after_commit mark, unnest(mark.heard_signals) as turn (signal_id)
          join command on command.signal_id = turn.signal_id and command.state = 'sent'
        where ${committedBetween(1)}`,
      values: [seen, until],
    })
    if (heard.length === 0) return
    const database = drizzle(client as never)
    const open = await openCommands(
      database as never,
      inArray(
        command.signalId,
        heard.map(({ signal_id }) => signal_id),
      ),
    )
    const at = now()
    const said = new Map<number, Happening[]>()
    for (const { signalId, sentAt } of open) {
      if (!sentAt) continue
      const since = { from: sentAt.getTime() - 1, to: at + 600_000 }
      const reports = await readings.last([signalId], since, mostReports, false)
      said.set(
        signalId,
        reports.map((each): Happening => ({ kind: 'report', at: each.at, value: each.value })),
      )
    }
    changed(await happened(database as never, open, ({ signalId }) => said.get(signalId) ?? [], at, stepOf))
  },
})
