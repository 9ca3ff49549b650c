import type { NewSignalDefinition } from '@jaunty-sparrow/contract'
import type { Story } from './story.ts'

export interface KitDescription {
  readonly name: string
  readonly cadenceSeconds: number
  readonly signals: readonly NewSignalDefinition[]
}

/** A simulated device: what it is made of, how often it speaks, and what it says at an instant. */
export interface StandIn {
  readonly name: string
  readonly address: string
  readonly kit: KitDescription
  /** ms between what it measures while it runs. */
  readonly period: number
  /** How much of it goes into one message; absent for each by itself. */
  readonly together?: number
  /** ms between the messages that stand for its past. */
  readonly historyPeriod: number
  readonly message: (at: number, story: Story) => Readonly<Record<string, unknown>>
  readonly isSilent?: (at: number, story: Story) => boolean
}
