import { isLoopback } from '@jaunty-sparrow/core/reach'
import type { BoardGuards } from './alarms/boardGuards.ts'
import type { Commands } from './commands/commands.ts'
import { type Config, ConfigError } from './config.ts'
import { BrokerDoor } from './doors/brokerDoor.ts'
import { CoapDoor } from './doors/coapDoor.ts'
import type { DoorKit } from './doors/doorKit.ts'
import { MqttDoor } from './doors/mqttDoor.ts'
import { PresenceStore } from './doors/retainedPresences.ts'
import { SerialCommands } from './doors/serialCommands.ts'
import { SerialDoor } from './doors/serialDoor.ts'
import type { Opened } from './life/opened.ts'
import { listenForCoap, listenForMqtt, listenForMqttTls } from './listening.ts'
import type { Certificates } from './reach/certificates.ts'
import type { Database } from './store/database.ts'

interface OpenDoorsParts {
  readonly kit: DoorKit
  readonly commands: Commands
  readonly guards: BoardGuards
  readonly config: Config
  readonly database: Database
  readonly opened: Opened
  /** Absent where the server has none. */
  readonly certificates: Certificates | undefined
  /** Told where connections come from. */
  readonly reachedFrom: (ip: string) => void
  /** Called when the serial line of a device begins or ceases to do well. */
  readonly lineChanged: (deviceId: number) => void
  /** Called when a serial line was set or removed, so that the other servers look too. */
  readonly linesChanged: () => void
}

/** The doors besides HTTP, which shares its port with the pages. */
interface Doors {
  /** Undefined where an external broker is listened to instead. */
  readonly mqtt: MqttDoor | undefined
  readonly mqttPort: number | undefined
  readonly mqttTlsPort: number | undefined
  readonly coapPort: number | undefined
  readonly serial: SerialDoor
}

/** Opens the doors that are wanted, each with how it is closed again. */
export async function openDoors(parts: OpenDoorsParts): Promise<Doors> {
  const {
    kit,
    commands,
    guards,
    config,
    database,
    opened,
    certificates,
    reachedFrom,
    lineChanged,
    linesChanged,
  } = parts
  const { mqttUrl, serverName } = config
  if (mqttUrl !== undefined) opened.add(new BrokerDoor(mqttUrl, serverName, kit), (it) => it.close())
  const presences = new PresenceStore(database.$client)
  const mqtt =
    mqttUrl === undefined
      ? opened.add(
          await MqttDoor.open({
            ...kit,
            commands,
            presences,
            reachedFrom,
            plainSecrets: config.plainSecrets,
          }),
          (it) => it.close(),
        )
      : undefined
  const mqttPort = mqtt && (await listenForMqtt(mqtt, config, kit.log))
  const mqttTlsPort = mqtt && certificates && (await listenForMqttTls(mqtt, certificates, config, kit.log))
  if (config.coapPort !== undefined && !config.plainSecrets && !isLoopback(config.host))
    throw new ConfigError('COAP_PORT needs PLAIN_SECRETS=true: CoAP comes without encryption here.')
  const coap =
    config.coapPort === undefined
      ? undefined
      : opened.add(new CoapDoor({ ...kit, host: config.host }), (it) => it.close())
  const coapPort = await listenForCoap(coap, config)
  const serial = opened.add(
    await SerialDoor.open({
      ...kit,
      commands: new SerialCommands({ commands, straightWay: kit.straightWay }),
      database,
      serverName,
      guardOf: (deviceId) => guards.of(deviceId) ?? '{"limits":{},"alarm":null}',
      changed: lineChanged,
      linesChanged,
    }),
    (it) => it.close(),
  )
  guards.onChanged(({ id, address }, says) => {
    mqtt?.sendLimits(address, says)
    serial.sendLimits(id)
  })
  return { mqtt, mqttPort, mqttTlsPort, coapPort, serial }
}
