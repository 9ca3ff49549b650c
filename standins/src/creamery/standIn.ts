import type { BodyOf, NewSignalDefinition, routes } from '@jaunty-sparrow/contract'
import type { Temper } from '../obedience.ts'
import type { Story } from './story.ts'

export interface KitDescription {
  readonly name: string
  readonly cadence: BodyOf<typeof routes.createKit>['cadence']
  readonly signals: readonly NewSignalDefinition[]
}

/** A simulated board: how often it speaks, and what it says at an instant. */
export interface Board {
  /** ms between what it measures while it runs. */
  readonly period: number
  /** How much of it goes into one message; absent for each by itself. */
  readonly together?: number
  /** How it obeys, where it can be told something. */
  readonly obeys?: Temper
  readonly message: (at: number, story: Story) => Readonly<Record<string, unknown>>
}

/** A simulated device: a board that is known, what it is made of, and which way it speaks. */
export interface StandIn extends Board {
  readonly name: string
  readonly address: string
  readonly kit: KitDescription
  /** By its own network connection, on a cable, or by radio to the gateway. */
  readonly speaks: 'http' | 'mqtt' | 'serial' | 'radio'
  /** ms between the messages that stand for its past. */
  readonly historyPeriod: number
  /** It goes on while nothing else has power. */
  readonly hasBattery?: boolean
}
