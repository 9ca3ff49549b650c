// npm run bench: the measured claims, as a table. ONLY=mqtt,file measures these only.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { main } from './application.mjs'
import { ensureDatabase, startCluster } from './cluster.mjs'
import { prepare, root } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: true, chromium: true, socat: true, openssl: true, web: true })
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-bench-'))
  const cluster = await startCluster(folder)
  const names = [
    'core',
    'formulas',
    'kitChange',
    'ingest',
    'formats',
    'mqtt',
    'fairness',
    'file',
    'serial',
    'browser',
    'watching',
    'dashboards',
    'control',
    'chart',
    'pages',
    'following',
    'derived',
    'rules',
    'alarms',
    'catchUp',
    'manySignals',
    'zoom',
    'tls',
    'shared',
    'onslaught',
    'ledger',
  ]
  for (const name of names) await ensureDatabase(cluster, name)
  const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'bench/main.ts'], {
    cwd: root,
    stdio: 'inherit',
    env: {
      ...process.env,
      DATABASE_URLS: JSON.stringify(Object.fromEntries(names.map((name) => [name, cluster.url(name)]))),
    },
  })
  cluster.stop()
  rmSync(folder, { recursive: true, force: true })
  process.exit(status ?? 1)
})
