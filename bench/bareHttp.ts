import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'

// A floor: node:http with JSON.parse, which answers and does nothing else.
const server = createServer((request, response) => {
  const chunks: Buffer[] = []
  request.on('data', (chunk: Buffer) => chunks.push(chunk))
  request.on('end', () => {
    JSON.parse(Buffer.concat(chunks).toString('utf8'))
    response.writeHead(204).end()
  })
}).listen(0, '127.0.0.1', () => {
  process.send?.({ url: `http://127.0.0.1:${(server.address() as AddressInfo).port}` })
})
process.on('SIGTERM', () => process.exit(0))
