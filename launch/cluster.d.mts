export interface Cluster {
  readonly data: string
  /** The file that says why it did not start. */
  readonly log: string
  readonly url: (database: string) => string
  readonly stop: () => void
  /** Ends it at once, as a power cut would: it has to recover when it starts. */
  readonly kill: () => void
  /** Starts it again where it was. @returns whether it runs */
  readonly restart: () => boolean
  readonly isRunning: () => boolean
  /** Whether it ran already when it was asked for. */
  readonly wasRunning: boolean
}

export function startCluster(folder: string): Promise<Cluster>
export function ensureDatabase(cluster: Cluster, name: string): Promise<void>
