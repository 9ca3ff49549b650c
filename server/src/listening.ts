import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { originOf } from '@jaunty-sparrow/core/reach'
import type { Logger } from 'pino'
import { type Config, ConfigError } from './config.ts'
import type { CoapDoor } from './doors/coapDoor.ts'
import type { MqttDoor } from './doors/mqttDoor.ts'
import type { Certificates } from './reach/certificates.ts'

const usualMqttPort = 1883
const usualMqttTlsPort = 8883

/** A port that was asked for must be had; the usual one may belong to a broker that is there already. */
export function listenForMqtt(
  door: MqttDoor,
  { host, mqttPort }: Config,
  log: Logger,
): Promise<number | undefined> {
  const listen = (port: number) => door.listen(port, host)
  return listenWhereFree(listen, { host, stated: mqttPort, usual: usualMqttPort, variable: 'MQTT_PORT' }, log)
}

/** The same over TLS. */
export function listenForMqttTls(
  door: MqttDoor,
  certificates: Certificates,
  { host, mqttTlsPort }: Config,
  log: Logger,
): Promise<number | undefined> {
  const listen = (port: number) => door.listenTls(port, host, certificates)
  return listenWhereFree(
    listen,
    { host, stated: mqttTlsPort, usual: usualMqttTlsPort, variable: 'MQTT_TLS_PORT' },
    log,
  )
}

interface Wanted {
  readonly host: string
  readonly stated: number | undefined
  readonly usual: number
  readonly variable: string
}

async function listenWhereFree(
  listen: (port: number) => Promise<number>,
  { host, stated, usual, variable }: Wanted,
  log: Logger,
): Promise<number | undefined> {
  try {
    return await listen(stated ?? usual)
  } catch (error) {
    if (!isTaken(error)) throw error
    if (stated !== undefined) throw portTaken(stated, host, variable)
    log.warn(`port ${usual} is taken, so MQTT is not listened for there; ${variable} sets another one`)
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

/** @returns the address it listens at */
export function listenForHttp(
  server: Server,
  { host, port, variable }: { host: string; port: number; variable: 'PORT' | 'TLS_PORT' },
  log: Logger,
): Promise<URL> {
  return new Promise((resolve, reject) => {
    server.once('error', (error) => reject(isTaken(error) ? portTaken(port, host, variable) : error))
    server.listen(port, host, () => {
      const { address, port: chosen } = server.address() as AddressInfo
      const url = new URL(originOf(variable === 'PORT' ? 'http' : 'https', address, chosen))
      log.info({ url: url.origin }, 'listening')
      resolve(url)
    })
  })
}

const isTaken = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'EADDRINUSE'

const portTaken = (port: number, host: string, variable: string): ConfigError =>
  new ConfigError(`Port ${port} on ${host} is taken by another program; set ${variable} to a free one.`)
