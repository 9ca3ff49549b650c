import { routes } from '@jaunty-sparrow/contract'
import pg from 'pg'
import { from } from 'pg-copy-streams'
import { median, whole } from './median.ts'
import { startSparrow } from './server.ts'

const rows = 1_000_000
const rowsPerPiece = 20_000
const start = Date.UTC(2026, 0, 1)

const piece = (first: number): string => {
  const lines = ['t,/a']
  for (let n = first; n < first + rowsPerPiece; n++) lines.push(`${start + n * 1000},${(n % 977) / 7}`)
  return lines.join('\n')
}

/** A million rows through the file door, against COPY of pieces of the same size into a table like the one of readings. */
export async function file(databaseUrl: string): Promise<string[]> {
  const sparrow = await startSparrow(databaseUrl)
  await sparrow.owner.createDevice('logger', ['a'])
  let sent = 0
  let resident = 0
  const began = performance.now()
  while (sent < rows) {
    await sparrow.owner.call(routes.importFile, {
      params: { address: 'logger' },
      body: { mediaType: 'text/csv', text: piece(sent) },
    })
    sent += rowsPerPiece
    resident = Math.max(resident, sparrow.residentBytes())
  }
  const ours = rows / ((performance.now() - began) / 1000)
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  const copied = [await copyRows(client), await copyRows(client), await copyRows(client)]
  const { rows: counted } = await client.query('select count(*)::int as n from reading')
  if (counted[0].n < rows) throw new Error(`${counted[0].n} rows are there, not ${rows}`)
  await client.end()
  await sparrow.stop()
  return [
    `| a file of ${whole(rows)} rows, in pieces of ${whole(rowsPerPiece)} | ${whole(ours)} rows/s, the server at most ${whole(resident / 1024 / 1024)} MiB | |`,
    `| … against a bare COPY of such pieces (${whole(median(copied))} rows/s) | ratio ${(ours / median(copied)).toFixed(2)} | |`,
  ]
}

/** COPY of as many pieces as fit a few seconds, into a table like the one readings are in. */
async function copyRows(client: pg.Client): Promise<number> {
  await client.query('drop table if exists copied')
  await client.query('create table copied (like reading including all)')
  const pieces = 10
  const begin = performance.now()
  for (let n = 0; n < pieces; n++) {
    const stream = client.query(from('copy copied (signal_id, quality, at, received_at, value) from stdin'))
    const lines: string[] = []
    for (let row = n * rowsPerPiece; row < (n + 1) * rowsPerPiece; row++) {
      const at = new Date(start + row * 1000).toISOString()
      lines.push(`1\t0\t${at}\t${at}\t${(row % 977) / 7}`)
    }
    stream.end(`${lines.join('\n')}\n`)
    await new Promise((done, failed) => stream.once('finish', done).once('error', failed))
  }
  return (pieces * rowsPerPiece) / ((performance.now() - begin) / 1000)
}
