import { join } from 'node:path'
import type { Credential } from '@jaunty-sparrow/core/device'
import type { MqttClient } from 'mqtt'
import { plantBranch } from './creamery/plantGateway.ts'
import type { StandIn } from './creamery/standIn.ts'
import { HttpLine } from './httpLine.ts'
import type { Line } from './line.ts'
import { connect, MqttLine } from './mqttLine.ts'
import { SerialLine } from './serialLine.ts'

interface Surroundings {
  readonly origin: string
  /** The folder where serial ports appear. */
  readonly home: string
  /** What hears boards by radio, if there is one. */
  readonly gateway: MqttClient | undefined
}

/** Where the serial port of a board appears. */
export const portOf = (address: string, home: string): string => join(home, `${address}.tty`)

/** The way a stand-in speaks while it runs. @returns undefined when nobody hears it */
export function liveLine(
  { speaks, address }: StandIn,
  credential: Credential,
  { origin, home, gateway }: Surroundings,
): Line | undefined {
  switch (speaks) {
    case 'http':
      return new HttpLine(origin, credential)
    case 'mqtt':
      return new MqttLine(connect(origin, credential), `sparrow/${address}/in`)
    case 'serial':
      return new SerialLine(portOf(address, home))
    case 'radio':
      return gateway && new MqttLine(gateway, `${plantBranch}/${address}`)
  }
}
