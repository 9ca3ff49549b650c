import { cpus } from 'node:os'
import { alarms } from './alarms.ts'
import { browser } from './browser.ts'
import { catchUp } from './catchUp.ts'
import { chart } from './chart.ts'
import { control } from './control.ts'
import { coreAlone } from './core.ts'
import { dashboards } from './dashboards.ts'
import { derived } from './derived.ts'
import { fairness } from './fairness.ts'
import { file } from './file.ts'
import { following } from './following.ts'
import { formatsOverHttp } from './formats.ts'
import { formulas } from './formulas.ts'
import { ingest } from './ingest.ts'
import { kitChange } from './kitChange.ts'
import { ledger } from './ledger.ts'
import { manySignals } from './manySignals.ts'
import { mqttDoor } from './mqtt.ts'
import { hostileRun } from './onslaught.ts'
import { pages } from './pages.ts'
import { rules } from './rules.ts'
import { serial } from './serial.ts'
import { shared } from './shared.ts'
import { tls } from './tls.ts'
import { watching } from './watching.ts'
import { zoom } from './zoom.ts'

/** Each measurement has a database of its own, called after it. */
const measurements = {
  core: coreAlone,
  formulas,
  kitChange,
  ingest,
  formats: formatsOverHttp,
  mqtt: mqttDoor,
  fairness,
  file,
  serial,
  browser,
  watching,
  dashboards,
  control,
  chart,
  pages,
  following,
  derived,
  rules,
  alarms,
  catchUp,
  manySignals,
  zoom,
  tls,
  shared,
  onslaught: hostileRun,
  ledger,
}

const { DATABASE_URLS, ONLY } = process.env
if (!DATABASE_URLS) throw new Error('run this with npm run bench')
const databases: Record<string, string> = JSON.parse(DATABASE_URLS)

const processor = cpus()
console.log(
  `${processor.length} × ${processor[0]?.model.trim()}, Node ${process.version}, generator on the same machine\n`,
)
console.log('| what | measured | goal |\n| --- | --- | --- |')
for (const [name, measure] of Object.entries(measurements)) {
  if (ONLY && !ONLY.split(',').includes(name)) continue
  console.error(`measuring ${name} …`)
  // Each as it comes: what fails later takes nothing away.
  console.log((await measure(databases[name] ?? '')).join('\n'))
}
