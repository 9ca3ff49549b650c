// npm run bench: the measured claims, as a table.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { main } from './application.mjs'
import { ensureDatabase, startCluster } from './cluster.mjs'
import { prepare, root } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: true, chromium: true, web: true })
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-bench-'))
  const cluster = await startCluster(folder)
  for (const name of ['ingest', 'browser']) await ensureDatabase(cluster, name)
  const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'bench/main.ts'], {
    cwd: root,
    stdio: 'inherit',
    env: {
      ...process.env,
      INGEST_DATABASE_URL: cluster.url('ingest'),
      BROWSER_DATABASE_URL: cluster.url('browser'),
    },
  })
  cluster.stop()
  rmSync(folder, { recursive: true, force: true })
  process.exit(status ?? 1)
})
