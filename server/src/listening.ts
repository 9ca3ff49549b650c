import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Logger } from 'pino'
import { type Config, ConfigError } from './config.ts'
import type { CoapDoor } from './doors/coapDoor.ts'
import type { MqttDoor } from './doors/mqttDoor.ts'

const usualMqttPort = 1883

/** A port that was asked for must be had; the usual one may belong to a broker that is there already. */
export async function listenForMqtt(
  door: MqttDoor,
  { host, mqttPort }: Config,
  log: Logger,
): Promise<number | undefined> {
  try {
    return await door.listen(mqttPort ?? usualMqttPort, host)
  } catch (error) {
    if (!isTaken(error)) throw error
    if (mqttPort !== undefined) throw portTaken(mqttPort, host, 'MQTT_PORT')
    log.warn(
      `port ${usualMqttPort} is taken, so the MQTT door is open at /mqtt only; MQTT_PORT sets another one`,
    )
    return undefined
  }
}

export async function listenForCoap(
  door: CoapDoor | undefined,
  { host, coapPort = 0 }: Config,
): Promise<number | undefined> {
  try {
    return await door?.listen(coapPort, host)
  } catch (error) {
    throw isTaken(error) ? portTaken(coapPort, host, 'COAP_PORT') : error
  }
}

/** @returns the address that people and boards reach the server at */
export function listenForHttp(server: Server, { host, port }: Config, log: Logger): Promise<string> {
  return new Promise((resolve, reject) => {
    server.once('error', (error) => reject(isTaken(error) ? portTaken(port, host, 'PORT') : error))
    server.listen(port, host, () => {
      const { address, family, port: chosen } = server.address() as AddressInfo
      const url = `http://${family === 'IPv6' ? `[${address}]` : address}:${chosen}`
      log.info({ url }, 'listening')
      resolve(url)
    })
  })
}

const isTaken = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'EADDRINUSE'

const portTaken = (port: number, host: string, variable: string): ConfigError =>
  new ConfigError(`Port ${port} on ${host} is taken by another program; set ${variable} to a free one.`)
