export interface Cluster {
  readonly data: string
  readonly url: (database: string) => string
  readonly stop: () => void
  /** Starts it again where it was, after `stop`. */
  readonly restart: () => void
}

export function startCluster(folder: string): Promise<Cluster>
export function ensureDatabase(cluster: Cluster, name: string): Promise<void>
