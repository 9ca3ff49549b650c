import { chanceFrom } from '../server/src/testing/chance.ts'
import { keepLedger } from '../server/src/testing/ledger.ts'
import { whole } from './median.ts'

/** LEDGER_KILLS says another number of them. */
const kills = Number(process.env.LEDGER_KILLS ?? 200)

/** Whether all that was acknowledged is there, once, after so many kills of server, database and launcher. */
export async function ledger(): Promise<string[]> {
  const accounts = Object.entries(await keepLedger(kills, chanceFrom(2026)))
  const sum = (of: 'acknowledged' | 'lost' | 'doubled') =>
    accounts.reduce((total, [, account]) => total + account[of], 0)
  const doors = accounts.map(([door, { acknowledged }]) => `${door} ${whole(acknowledged)}`).join(', ')
  return [
    `| ${kills} kills of server, database and launcher: readings acknowledged | ${whole(sum('acknowledged'))} (${doors}) | |`,
    `| … of them lost, stored twice | ${sum('lost')}, ${sum('doubled')} | none |`,
  ]
}
