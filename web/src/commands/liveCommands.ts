import type { Command } from '@jaunty-sparrow/contract'
import { stage } from '@jaunty-sparrow/core/command'
import { live } from '../live/connection.ts'

/**
 * The command of each signal that was asked for last, as far as this page heard of it. The answer to a request may come after a frame
 * that tells more: it takes nothing back.
 */
export class LiveCommands {
  readonly #bySignal = new Map<number, Command>()
  readonly #listeners = new Set<() => void>()
  #version = 0

  take(commands: readonly Command[]): void {
    for (const command of commands) {
      const known = this.#bySignal.get(command.signalId)
      const isNews =
        !known ||
        known.id < command.id ||
        (known.id === command.id && stage(known.state) <= stage(command.state))
      if (isNews) this.#bySignal.set(command.signalId, command)
    }
    this.#version++
    for (const listener of this.#listeners) listener()
  }

  readonly of = (signal: number): Command | undefined => this.#bySignal.get(signal)

  /** Another number whenever something is otherwise than before. */
  readonly version = (): number => this.#version

  readonly listen = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }
}

export const liveCommands = new LiveCommands()
live.onFrame((frame) => frame.kind === 'commands' && liveCommands.take(frame.commands))
