import { alarmAddressOf } from '@jaunty-sparrow/core/alarm'
import { type Alarm, untoldAlarm } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { StatedAlarm } from './statedAlarms.ts'

/** What is the case of the server and of devices, found out elsewhere. */
export interface Conditions {
  /** What is in the way of the server. */
  readonly inTheWay: () => Readonly<Record<'database' | 'disk' | 'clock', string | undefined>>
  /** When a message of a device was dropped last because it sent more than it may, epoch ms; null where none was. */
  readonly droppedAt: (device: RegisteredDevice) => number | null
  readonly isSilent: (device: RegisteredDevice) => boolean
  /** Whether a way by which people are told keeps failing. */
  readonly isNoticeFailing: () => boolean
  /** When the database was backed up last, epoch ms; null where it never was. */
  readonly backedUpAt: () => number | null
  /** Epoch ms. */
  readonly now: () => number
}

const built = (
  key: string,
  name: string,
  atLeast: number,
  said: Pick<Alarm, 'priority' | 'cause' | 'consequence' | 'response' | 'timeToAct'>,
): Alarm => ({
  ...untoldAlarm,
  key,
  name,
  occasion: { by: 'state', values: [1], atLeast },
  ...said,
})

const ofServer: readonly Alarm[] = [
  built('disk', 'the disk is nearly full', 60, {
    priority: 'urgent',
    cause: 'Something fills the disk that holds the database.',
    consequence: 'When it is full, nothing is stored any more.',
    response: 'Make room, or keep messages for a shorter time.',
    timeToAct: 3600,
  }),
  built('database', 'the database commits slowly', 30, {
    priority: 'important',
    cause: 'The disk is slow, or the machine is busy with something else.',
    consequence: 'Devices wait, and what they do not keep is lost.',
    response: 'See on the page of the server what is busy.',
    timeToAct: 3600,
  }),
  built('clock', 'its clock is not trusted', 0, {
    priority: 'important',
    cause: 'The clock was set, or the machine lost its time.',
    consequence: 'New readings are marked, and nothing old is let go of.',
    response: 'Set the clock, or confirm it on the page of the server.',
    timeToAct: 86_400,
  }),
]

const backup = built('backup', 'it was not backed up for a week', 0, {
  priority: 'minor',
  cause: 'What makes the backups has stopped, or nobody has thought of it.',
  consequence: 'What has come in since is lost with the disk.',
  response: 'Run npm run backup, and see why it was not run.',
  timeToAct: 86_400,
})
/** Whoever makes backups makes one a week, and may be late by a day, ms. */
const backupsApart = 8 * 86_400_000

const notice = built('notice', 'a notice could not be sent', 0, {
  priority: 'important',
  cause: 'The server that takes mail, or whoever is called, does not answer or refuses it.',
  consequence: 'Somebody is not told of alarms.',
  response: 'See on the page of what was sent what came back, and send a test.',
  timeToAct: 3600,
})

const allowance = built('allowance', 'sends more than it may', 0, {
  priority: 'important',
  cause: 'The device sends too often, or in a loop.',
  consequence: 'What is beyond its allowance is dropped.',
  response: 'Let it send less, or give it a larger allowance on its page.',
  timeToAct: null,
})

const gateway: Alarm = {
  ...built('silence', '', 0, {
    priority: 'important',
    cause: 'It has no power, or no way to here.',
    consequence: 'Nothing is heard of the devices it speaks for.',
    response: 'See whether it has power and its network.',
    timeToAct: null,
  }),
  occasion: { by: 'silence', from: 'silent', atLeast: 0 },
}

/** So long after the last message that was dropped a device is over its allowance, ms. */
const stillOver = 120_000

/** Alarms that nobody has to state: those of the server, of devices that send too much, and of gateways. */
export class BuiltInAlarms {
  readonly #registry: DeviceRegistry
  readonly #conditions: Conditions

  constructor(registry: DeviceRegistry, conditions: Conditions) {
    this.#registry = registry
    this.#conditions = conditions
  }

  *stated(): Generator<StatedAlarm> {
    const nothing = { signal: null, limits: null, inputs: null, unlessInputs: null }
    for (const alarm of [...ofServer, notice, backup])
      yield { ...nothing, id: alarmAddressOf({ of: 'server', key: alarm.key }), alarm, device: null }
    for (const device of this.#registry.all()) {
      if (device.isRetired) continue
      const id = (key: string) => alarmAddressOf({ of: 'device', device: device.id, key })
      yield { ...nothing, id: id('allowance'), alarm: allowance, device }
      if (device.claims.length > 0) yield { ...nothing, id: id('silence'), alarm: gateway, device }
    }
  }

  /** Whether it is the case. */
  isSo({ device, alarm }: StatedAlarm): boolean {
    const { inTheWay, droppedAt, isSilent, isNoticeFailing, backedUpAt, now } = this.#conditions
    if (alarm === notice) return isNoticeFailing()
    if (alarm === backup) {
      const last = backedUpAt()
      // Who never made one has not begun to.
      return last !== null && now() - last > backupsApart
    }
    if (!device) return inTheWay()[alarm.key as 'disk'] !== undefined
    if (alarm.key === 'silence') return isSilent(device)
    const at = droppedAt(device)
    return at !== null && now() - at < stillOver
  }
}
