import { existsSync } from 'node:fs'
import { startCluster } from './cluster.mjs'
import { SetUpError } from './prepare.mjs'

/** The database that the server uses: the one that was stated, or the private cluster's, which may be running. */
export async function privateDatabase(home) {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, stop: () => undefined }
  if (!existsSync(home))
    throw new SetUpError(`There is nothing at ${home} yet; SPARROW_HOME names another folder.`)
  const cluster = await startCluster(home)
  return { url: cluster.url('sparrow'), stop: cluster.wasRunning ? () => undefined : cluster.stop }
}
