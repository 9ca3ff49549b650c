// npm start: the production start. No demo data; the link it prints creates the owner.
import { Application, homeFolder, main } from './application.mjs'
import { authorityFolder } from './authorityFolder.mjs'
import { prepare } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: !process.env.DATABASE_URL, web: true })
  const home = homeFolder('main')
  const application = new Application()
  application.occupy(home)
  const database = await application.database(home)
  await application.server(
    { ...database, AUTHORITY_FOLDER: process.env.AUTHORITY_FOLDER ?? authorityFolder(home) },
    say,
  )
})

/** Says where everything is, each time the server has started. */
function say({ reach, firstRunToken }) {
  const { people, devices, isLocalOnly } = reach
  console.log(`\nJaunty Sparrow is at ${people.url}`)
  for (const other of people.others) console.log(`  and at ${other}`)
  if (isLocalOnly)
    console.log(
      'It listens to this machine only: boards on the network reach it with HOST=0.0.0.0 npm start.',
    )
  else if (devices.url !== people.url) console.log(`Devices send to ${devices.url}`)
  console.log(
    process.env.MQTT_URL
      ? 'MQTT messages are taken from the broker that MQTT_URL names.'
      : devices.mqttPort
        ? `MQTT listens at ${devices.host}:${devices.mqttPort}${devices.mqttTlsPort ? `, over TLS at ${devices.mqttTlsPort}` : ''}, and over WebSocket at /mqtt.`
        : 'MQTT listens over WebSocket at /mqtt only: its usual port is taken, and MQTT_PORT sets another one.',
  )
  console.log(
    devices.coapPort
      ? `CoAP listens at ${devices.host}:${devices.coapPort} (UDP).`
      : 'CoAP is off; COAP_PORT=5683 switches it on.',
  )
  if (!firstRunToken) return
  const link = new URL(`/first-run#${firstRunToken}`, people.url)
  console.log(`Create its owner with this link, which shows that the machine is yours: ${link}`)
}
