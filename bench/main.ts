import { cpus } from 'node:os'
import { browser } from './browser.ts'
import { ingest } from './ingest.ts'

const { INGEST_DATABASE_URL, BROWSER_DATABASE_URL } = process.env
if (!INGEST_DATABASE_URL || !BROWSER_DATABASE_URL) throw new Error('run this with npm run bench')

const processor = cpus()
const rows = [...(await ingest(INGEST_DATABASE_URL)), ...(await browser(BROWSER_DATABASE_URL))]
console.log(
  `\n${processor.length} × ${processor[0]?.model.trim()}, Node ${process.version}, generator on the same machine\n`,
)
console.log(['| what | measured | goal |', '| --- | --- | --- |', ...rows].join('\n'))
