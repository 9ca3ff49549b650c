import { rmSync } from 'node:fs'

export default function end() {
  const { folder, cluster } = globalThis.testCluster
  cluster.stop()
  rmSync(folder, { recursive: true, force: true })
}
