import type { Claim } from '@jaunty-sparrow/core/claim'
import type { Allowance } from '@jaunty-sparrow/core/device'
import type { Cadence, SignalMap } from '@jaunty-sparrow/core/signal'

/** A device as the doors know it: who it is, how it proves it, and where its fields go. */
export interface RegisteredDevice {
  readonly id: number
  readonly kitId: number
  readonly siteId: number
  readonly address: string
  readonly name: string
  readonly secretHash: Buffer
  /** Of the secret before, which is good for a while yet. */
  readonly formerSecretHash?: Buffer
  /** How often it speaks, as its kit says; null where that is learned. */
  readonly statedCadence: Cadence | null
  readonly allowance: Allowance
  /** Topic filters outside its own branch that its key may publish to. */
  readonly reach: readonly string[]
  /** Whose the messages are that its key sends for others. */
  readonly claims: readonly Claim[]
  readonly signals: SignalMap
  /** Whether it is out of service: nothing is taken of it. */
  readonly isRetired: boolean
  /** Instants of its last messages, epoch ms, oldest first. */
  readonly arrivals: number[]
}
