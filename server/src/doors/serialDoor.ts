import type { SerialLine, SerialState } from '@jaunty-sparrow/contract'
import { eq } from 'drizzle-orm'
import { SerialPort } from 'serialport'
import type { Database } from '../store/database.ts'
import { serialPort } from '../store/schema.ts'
import { SerialListener, type SerialListenerParts } from './serialListener.ts'

interface SerialDoorParts extends SerialListenerParts {
  readonly database: Database
}

type Stated = Pick<SerialLine, 'path' | 'speed' | 'csvHeader'>

/** The serial door: boards on a cable. A port and a speed belong to a device, and each line it prints is a message. */
export class SerialDoor {
  readonly #parts: SerialDoorParts
  readonly #listeners = new Map<number, SerialListener>()

  private constructor(parts: SerialDoorParts) {
    this.#parts = parts
  }

  static async open(parts: SerialDoorParts): Promise<SerialDoor> {
    const door = new SerialDoor(parts)
    for (const { deviceId, ...stated } of await parts.database.select().from(serialPort))
      door.#listen(deviceId, stated)
    return door
  }

  /** The line of a device, and how it is doing; null when it has none. */
  lineOf(deviceId: number): SerialLine | null {
    const listener = this.#listeners.get(deviceId)
    if (!listener) return null
    const { stated, state, reason } = listener
    return { ...stated, state, says: wordsFor(state, stated, reason) }
  }

  /** Listens to a port for a device from now on. @throws when another device has it */
  async set(deviceId: number, stated: Stated): Promise<void> {
    await this.#parts.database
      .insert(serialPort)
      .values({ deviceId, ...stated })
      .onConflictDoUpdate({ target: serialPort.deviceId, set: stated })
    await this.#letGo(deviceId)
    this.#listen(deviceId, stated)
  }

  async remove(deviceId: number): Promise<void> {
    await this.#parts.database.delete(serialPort).where(eq(serialPort.deviceId, deviceId))
    await this.#letGo(deviceId)
  }

  /** Lets go of all ports, and resolves when what was read is stored. */
  async close(): Promise<void> {
    await Promise.all([...this.#listeners.keys()].map((deviceId) => this.#letGo(deviceId)))
  }

  /** The ports of this machine; empty where the system cannot list them. */
  async ports(): Promise<{ path: string; maker: string | null }[]> {
    try {
      const found = await SerialPort.list()
      return found.map(({ path, manufacturer }) => ({ path, maker: manufacturer ?? null }))
    } catch (error) {
      this.#parts.log.warn({ err: error }, 'the serial ports could not be listed')
      return []
    }
  }

  #listen(deviceId: number, stated: Stated): void {
    this.#listeners.set(deviceId, new SerialListener(deviceId, stated, this.#parts))
  }

  async #letGo(deviceId: number): Promise<void> {
    const listener = this.#listeners.get(deviceId)
    this.#listeners.delete(deviceId)
    await listener?.close()
  }
}

function wordsFor(state: SerialState, { path, speed }: Stated, reason: string): string {
  switch (state) {
    case 'listening':
      return `Listening to ${path} at ${speed} baud.`
    case 'garbled':
      return `What comes from ${path} cannot be read: most bytes are unprintable. Is ${speed} baud the speed the board was told?`
    case 'busy':
      return `Another program holds ${path}, perhaps a serial monitor. Close it there; it is tried again every second.`
    case 'missing':
      return `There is no ${path}: the cable is pulled, or the board is off. It is tried again every second.`
    case 'denied':
      return `The server may not open ${path}. Let its user into the group that owns the port, often "dialout".`
    case 'failed':
      return `${path} could not be opened: ${reason}. It is tried again every second.`
  }
}
