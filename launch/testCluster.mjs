import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startCluster } from './cluster.mjs'

/** Starts a temporary cluster; every test file makes a database of its own in it. */
export default async function start() {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-test-'))
  const cluster = await startCluster(folder)
  globalThis.testCluster = { folder, cluster }
  process.env.TEST_DATABASE_URL = cluster.url('postgres')
}
