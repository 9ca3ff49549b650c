import { mayAt } from '@jaunty-sparrow/core/access'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { ProgramTokens } from '../people/programTokens.ts'

interface Parts {
  readonly registry: DeviceRegistry
  readonly programs: ProgramTokens
}

/** A token has no dot in it, a device's credential has one. */
export const isProgramToken = (bearer: string): boolean => bearer !== '' && !bearer.includes('.')

/**
 * The device that a program sends for with its token: the one it names as `?device=`, or the only one it may send for.
 * @throws ProblemError
 */
export async function sentFor(
  { registry, programs }: Parts,
  token: string,
  url: string,
): Promise<RegisteredDevice> {
  const program = await programs.find(token)
  if (!program)
    throw new ProblemError(
      'wrong-token',
      'This is neither the credential of a device, which is "<address>.<secret>", nor a token that holds here: it may have been taken back, or have ended.',
    )
  const devices = program.sendsFor.flatMap((id) => registry.byId(id) ?? [])
  const named = new URLSearchParams(url.split('?', 2)[1] ?? '').get('device')
  const device =
    named === null ? devices.length === 1 && devices[0] : devices.find(({ address }) => address === named)
  if (device && mayAt(program.maker, 'owner', device.siteId)) return device
  throw new ProblemError(
    'not-allowed',
    named === null
      ? 'Say which device this is of: POST /in?device=<address>.'
      : `This token may not send for "${named.slice(0, 60)}".`,
  )
}
