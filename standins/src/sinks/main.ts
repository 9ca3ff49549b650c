import { once } from 'node:events'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { Kept } from './kept.ts'
import { openMailSink } from './mailSink.ts'
import { sinkPage } from './sinkPage.ts'

const kept = new Kept()
const mailUrl = await openMailSink(kept, Date.now, Number(process.env.SINK_MAIL_PORT ?? 0))
const show = sinkPage(kept, Date.now)
const server = createServer((request, response) => {
  show(request, response).catch((error: unknown) => {
    console.error(error)
    response.destroy()
  })
}).listen(Number(process.env.SINK_PORT ?? 0), '127.0.0.1')
await once(server, 'listening')
process.send?.({ mailUrl, url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/` })

for (const event of ['SIGTERM', 'SIGINT', 'disconnect']) process.on(event, () => process.exit(0))
