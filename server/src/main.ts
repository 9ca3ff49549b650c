import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { ConfigError, readConfig } from './config.ts'
import { startServer } from './server.ts'

const webRoot = fileURLToPath(new URL('../../web/dist', import.meta.url))

try {
  const server = await startServer(readConfig(process.env), {
    webRoot: existsSync(webRoot) ? webRoot : undefined,
    now: Date.now,
  })
  // Whoever started this process waits for the address.
  process.send?.({ url: server.url, mqttPort: server.mqttPort, firstRunToken: server.firstRunToken })
  let stopping = false
  const stop = () => {
    if (stopping) return
    stopping = true
    void server.close().then(() => process.exit(0))
  }
  for (const event of ['SIGTERM', 'SIGINT', 'disconnect']) process.on(event, stop)
} catch (error) {
  console.error(error instanceof ConfigError ? error.message : error)
  process.exit(1)
}
