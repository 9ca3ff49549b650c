import { cpus } from 'node:os'
import { browser } from './browser.ts'
import { fairness } from './fairness.ts'
import { file } from './file.ts'
import { formatsOverHttp } from './formats.ts'
import { ingest } from './ingest.ts'
import { mqttDoor } from './mqtt.ts'
import { serial } from './serial.ts'

/** Each measurement has a database of its own, called after it. */
const measurements = { ingest, formats: formatsOverHttp, mqtt: mqttDoor, fairness, file, serial, browser }

const { DATABASE_URLS, ONLY } = process.env
if (!DATABASE_URLS) throw new Error('run this with npm run bench')
const databases: Record<string, string> = JSON.parse(DATABASE_URLS)

const rows: string[] = []
for (const [name, measure] of Object.entries(measurements)) {
  if (ONLY && !ONLY.split(',').includes(name)) continue
  console.log(`measuring ${name} …`)
  rows.push(...(await measure(databases[name] ?? '')))
}
const processor = cpus()
console.log(
  `\n${processor.length} × ${processor[0]?.model.trim()}, Node ${process.version}, generator on the same machine\n`,
)
console.log(['| what | measured | goal |', '| --- | --- | --- |', ...rows].join('\n'))
