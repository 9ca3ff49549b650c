import type { AddressInfo } from 'node:net'
import { createServer } from 'node:net'
import { Aedes } from 'aedes'

// A floor: the broker library by itself, which lets everybody in, acknowledges, and keeps nothing.
const broker = await Aedes.createBroker({ concurrency: 200 })
const server = createServer((socket) => broker.handle(socket.setNoDelay(true))).listen(0, '127.0.0.1', () => {
  const { port } = server.address() as AddressInfo
  process.send?.({ url: `mqtt://127.0.0.1:${port}`, mqttPort: port })
})
process.on('SIGTERM', () => process.exit(0))
