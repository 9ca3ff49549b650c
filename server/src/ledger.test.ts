import { chanceFrom } from './testing/chance.ts'
import { keepLedger } from './testing/ledger.ts'

it('finds all that was acknowledged, once, after server, database and launcher were killed', async () => {
  const accounts = await keepLedger(9, chanceFrom(4711))
  expect(Object.keys(accounts)).toEqual(['http', 'http-2', 'mqtt-1', 'mqtt-2', 'coap', 'serial'])
  for (const [door, { acknowledged, lost, doubled }] of Object.entries(accounts)) {
    expect([door, lost, doubled]).toEqual([door, 0, 0])
    // Far more than before the first of them.
    expect(acknowledged).toBeGreaterThan(30)
  }
}, 300_000)
