import { alarmAddressOf, type FoundInputs, findInputs } from '@jaunty-sparrow/core/alarm'
import type { Alarm, DeviceSignal, Limits } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'

/** An alarm as it is stated: of one signal of one device, of a device, or of the server. */
export interface StatedAlarm {
  /** Its address. */
  readonly id: string
  readonly alarm: Alarm
  readonly device: RegisteredDevice | null
  readonly signal: DeviceSignal | null
  readonly limits: Limits | null
  /** What its formula is over; null where it has none, or a signal of it is not there. */
  readonly inputs: FoundInputs | null
  /** The same of what suppresses it. */
  readonly unlessInputs: FoundInputs | null
}

/** All alarms that are stated: one for each device of a kit, and for each of like parts. */
export function statedAlarms(registry: DeviceRegistry): Map<string, StatedAlarm> {
  const stated = new Map<string, StatedAlarm>()
  for (const device of registry.all()) {
    if (device.isRetired) continue
    for (const signal of device.signals) {
      const { definition, isFormer } = signal
      if (isFormer || definition.state !== 'accepted') continue
      for (const alarm of definition.alarms) {
        const id = alarmAddressOf({ of: 'signal', signal: signal.signal, key: alarm.key })
        stated.set(id, stateOfSignal(id, alarm, device, signal))
      }
    }
  }
  return stated
}

/** An alarm as it would be at one signal. */
export function stateOfSignal(
  id: string,
  alarm: Alarm,
  device: RegisteredDevice,
  signal: DeviceSignal,
): StatedAlarm {
  const named = namedAt(device, signal)
  const { occasion, unless } = alarm
  return {
    id,
    alarm,
    device,
    signal,
    limits: signal.definition.limits,
    inputs: occasion.by === 'formula' ? (findInputs(occasion.inputs, named) ?? null) : null,
    unlessInputs: unless ? (findInputs(unless.inputs, named) ?? null) : null,
  }
}

/** A signal of the device by its name: of like parts the same one, else the only one. */
const namedAt =
  ({ signals }: RegisteredDevice, { part }: DeviceSignal) =>
  (name: string): number | undefined => {
    const so = Array.from(signals).filter(({ definition, isFormer }) => definition.name === name && !isFormer)
    return (so.find((each) => each.part === part) ?? so.find((each) => each.part === ''))?.signal
  }
