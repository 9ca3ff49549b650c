import { fileURLToPath } from 'node:url'
import { readConfig } from '../config.ts'
import { startServer } from '../server.ts'

/** The real server, by a clock that whoever started it puts forward. */
let ahead = 0
const { close, ...told } = await startServer(readConfig(process.env), {
  webRoot: fileURLToPath(new URL('../../../web/dist', import.meta.url)),
  now: () => Date.now() + ahead,
})
process.send?.(told)
process.on('message', ({ forward }: { forward: number }) => {
  ahead += forward
})
for (const event of ['SIGTERM', 'disconnect'])
  process.on(event, () => {
    close().then(() => process.exit(0))
  })
