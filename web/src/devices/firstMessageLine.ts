import { writeCredential } from '@jaunty-sparrow/core/device'

/** The line that makes a terminal speak as the device, over HTTP. */
export const curlLine = (origin: string, address: string, secret: string): string =>
  `curl -X POST ${origin}/in -H "Authorization: Bearer ${writeCredential({ address, secret })}" -H "Content-Type: application/json" -d '{"temperature": 21.5}'`

/** The same over MQTT, with the client that Debian has. */
export const mqttLine = (host: string, port: number, address: string, secret: string): string =>
  `mosquitto_pub -h ${host} -p ${port} -u ${address} -P ${secret} -q 1 -t sparrow/${address}/in -m '{"temperature": 21.5}'`
