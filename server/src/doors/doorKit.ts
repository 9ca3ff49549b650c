import type { DoorName } from '@jaunty-sparrow/contract'
import type { Credential } from '@jaunty-sparrow/core/device'
import { longest, presentable } from '@jaunty-sparrow/core/text'
import type { Logger } from 'pino'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Drops } from '../devices/drops.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { ByteBudget } from '../ingest/byteBudget.ts'
import type { StraightWay } from '../ingest/straightWay.ts'
import type { Faults } from '../life/faults.ts'
import type { RefusalRecorder, RefusedMessage } from '../messages/recorder.ts'
import { matchesHash } from '../secrets/token.ts'

/** What every door is given, so that its own file says its protocol and nothing else. */
export interface DoorKit {
  readonly registry: DeviceRegistry
  readonly straightWay: StraightWay
  readonly recorder: RefusalRecorder
  readonly drops: Drops
  readonly budget: ByteBudget
  readonly faults: Faults
  /** Epoch ms. */
  readonly now: () => number
  readonly log: Logger
}

/** Why nobody comes in with a credential. */
interface NotAdmitted {
  readonly problem: 'unknown-device' | 'wrong-secret' | 'retired'
  readonly reason: string
}

/** Finds who comes in with a credential. */
export function admit(
  { registry }: Pick<DoorKit, 'registry'>,
  { address, secret }: Credential,
): RegisteredDevice | NotAdmitted {
  const device = registry.get(address)
  if (!device)
    return {
      problem: 'unknown-device',
      reason: `No device has the address "${presentable(address, longest.sender)}" here.`,
    }
  const { secretHash, formerSecretHash } = device
  const isIts = matchesHash(secret, secretHash) || (formerSecretHash && matchesHash(secret, formerSecretHash))
  if (isIts && device.isRetired)
    return {
      problem: 'retired',
      reason: `"${device.address}" was retired: nothing is taken of it until its owner takes it back into service.`,
    }
  return isIts
    ? device
    : { problem: 'wrong-secret', reason: `The secret is not the one of "${device.address}".` }
}

const nothing = new Uint8Array()

/** What a door turned away before it came to the straight way; what is left out is not known, or not kept. */
export interface TurnedAway extends Partial<Omit<RefusedMessage, 'door' | 'receivedAt' | 'reason'>> {
  readonly receivedAt: number
  readonly reason: string
}

/** Keeps what a door turned away, so that it can be looked at. */
export const turnAway = ({ recorder }: Pick<DoorKit, 'recorder'>, door: DoorName, turned: TurnedAway): void =>
  recorder.record({
    deviceId: null,
    sender: '',
    mediaType: 'application/octet-stream',
    tail: '',
    topic: '',
    byHand: false,
    body: nothing,
    outcome: 'refused',
    ...turned,
    door,
  })
