// npm start: the production start. No demo data; the link it prints creates the owner.
import { hostname } from 'node:os'
import { Application, homeFolder, main } from './application.mjs'
import { prepare } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: !process.env.DATABASE_URL, web: true })
  const home = homeFolder('main')
  const application = new Application()
  application.occupy(home)
  const database = await application.database(home)
  await application.server(database, say)
})

/** Says where everything is, each time the server has started. */
function say({ url, mqttPort, coapPort, firstRunToken }) {
  const { hostname: host } = new URL(url)
  console.log(`\nJaunty Sparrow is at ${url}`)
  console.log(
    process.env.MQTT_URL
      ? 'MQTT messages are taken from the broker that MQTT_URL names.'
      : mqttPort
        ? `MQTT listens at ${host}:${mqttPort}, and over WebSocket at /mqtt.`
        : 'MQTT listens over WebSocket at /mqtt only: its usual port is taken, and MQTT_PORT sets another one.',
  )
  console.log(
    coapPort ? `CoAP listens at ${host}:${coapPort} (UDP).` : 'CoAP is off; COAP_PORT=5683 switches it on.',
  )
  if (!firstRunToken) return
  const link = new URL(`/first-run#${firstRunToken}`, url)
  if (host === '0.0.0.0' || host === '[::]') link.hostname = hostname()
  console.log(`Create its owner with this link, which shows that the machine is yours: ${link}`)
}
