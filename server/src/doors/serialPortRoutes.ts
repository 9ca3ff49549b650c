import { routes } from '@jaunty-sparrow/contract'
import { knownDevice } from '../devices/knownDevice.ts'
import type { DeviceParts } from '../devices/routes.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { isTaken } from '../store/databaseError.ts'
import type { SerialDoor } from './serialDoor.ts'

type SerialPortParts = Pick<DeviceParts, 'binder' | 'registry' | 'hub'> & { readonly serial: SerialDoor }

/** Which device listens to which serial port. */
export function bindSerialPorts({ binder, registry, hub, serial }: SerialPortParts): void {
  binder.bind(routes.listSerialPorts, () => serial.ports())

  binder.bind(routes.setSerialPort, async ({ params, body }) => {
    await serial.set(knownDevice(registry, params.address).id, body).catch((error: unknown) => {
      if (!isTaken(error)) throw error
      throw new ProblemError('conflict', `Another device listens to ${body.path} already.`)
    })
    hub.deviceChanged(params.address)
  })

  binder.bind(routes.pauseSerialPort, async ({ params, body: { seconds } }) => {
    const isHere = await serial.pause(knownDevice(registry, params.address).id, seconds * 1000)
    if (!isHere) throw new ProblemError('conflict', 'This server listens to no serial port for this device.')
    hub.deviceChanged(params.address)
  })

  binder.bind(routes.removeSerialPort, async ({ params }) => {
    await serial.remove(knownDevice(registry, params.address).id)
    hub.deviceChanged(params.address)
  })
}
