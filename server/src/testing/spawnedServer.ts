import { type ChildProcess, fork } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'

export interface SpawnedServer {
  readonly url: string
  readonly mqttPort: number
  readonly coapPort: number
  readonly firstRunToken: string | undefined
  readonly process: ChildProcess
}

/** The real process, to be killed for real. */
export async function spawnServer(
  databaseUrl: string,
  settings: Record<string, string> = {},
): Promise<SpawnedServer> {
  const child = fork(fileURLToPath(new URL('../main.ts', import.meta.url)), [], {
    execArgv: ['--import', 'tsx'],
    env: {
      ...process.env,
      NODE_OPTIONS: '',
      PORT: '0',
      MQTT_PORT: '0',
      DATABASE_URL: databaseUrl,
      LOG_LEVEL: 'silent',
      ...settings,
    },
  })
  const [message] = (await once(child, 'message')) as [Omit<SpawnedServer, 'process'>]
  return { ...message, process: child }
}
