import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { ConfigError, readConfig } from './config.ts'
import { startServer } from './server.ts'

const webRoot = fileURLToPath(new URL('../../web/dist', import.meta.url))

try {
  const { faults, close, ...told } = await startServer(readConfig(process.env), {
    webRoot: existsSync(webRoot) ? webRoot : undefined,
    now: Date.now,
  })
  // The last resort: what nobody caught is told, and one sender's mistake does not end the server for all.
  process.on('uncaughtException', (error) => faults.note('the process', error))
  process.on('unhandledRejection', (error) => faults.note('the process', error))
  // Whoever started this process waits for the address.
  process.send?.(told)
  let stopping = false
  const stop = () => {
    if (stopping) return
    stopping = true
    close().then(
      () => process.exit(0),
      (error: unknown) => {
        console.error(error)
        process.exit(1)
      },
    )
  }
  for (const event of ['SIGTERM', 'SIGINT', 'disconnect']) process.on(event, stop)
} catch (error) {
  console.error(error instanceof ConfigError ? error.message : error)
  process.exit(1)
}
