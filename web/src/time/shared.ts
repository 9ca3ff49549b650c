import { useSyncExternalStore } from 'react'

/** A value that parts of a page share, and that changes too often to draw the page anew for. */
export class Shared<T> {
  #value: T
  readonly #listeners = new Set<() => void>()

  constructor(value: T) {
    this.#value = value
  }

  readonly get = (): T => this.#value

  set(value: T): void {
    if (Object.is(value, this.#value)) return
    this.#value = value
    for (const listener of this.#listeners) listener()
  }

  readonly listen = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }
}

export const useShared = <T>(shared: Shared<T>): T => useSyncExternalStore(shared.listen, shared.get)
