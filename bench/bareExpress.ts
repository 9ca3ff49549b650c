import type { AddressInfo } from 'node:net'
import express from 'express'

// A floor: Express with its JSON parser, which answers and does nothing else.
const app = express()
app.post('/in', express.json(), (_request, response) => {
  response.status(204).end()
})
const server = app.listen(0, '127.0.0.1', () => {
  process.send?.({ url: `http://127.0.0.1:${(server.address() as AddressInfo).port}` })
})
process.on('SIGTERM', () => process.exit(0))
