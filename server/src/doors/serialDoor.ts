import type { SerialLine, SerialState } from '@jaunty-sparrow/contract'
import { eq, isNull } from 'drizzle-orm'
import { SerialPort } from 'serialport'
import type { Database } from '../store/database.ts'
import { serialPort } from '../store/schema.ts'
import { SerialListener, type SerialListenerParts } from './serialListener.ts'

interface SerialDoorParts extends SerialListenerParts {
  readonly database: Database
  /** What this server is called: a port is on the machine of one server, and none of the others' business. */
  readonly serverName: string
  /** Called when a line was set or removed, so that the other servers look too. */
  readonly linesChanged: () => void
}

type Stated = Pick<SerialLine, 'path' | 'speed' | 'csvHeader'>

/** The serial door: boards on a cable. A port and a speed belong to a device, and each line it prints is a message. */
export class SerialDoor {
  readonly #parts: SerialDoorParts
  readonly #listeners = new Map<number, SerialListener>()
  /** Lines that other servers listen to, as far as this one has been told. */
  readonly #elsewhere = new Map<number, Stated & { readonly server: string }>()

  private constructor(parts: SerialDoorParts) {
    this.#parts = parts
  }

  static async open(parts: SerialDoorParts): Promise<SerialDoor> {
    const door = new SerialDoor(parts)
    await parts.database.update(serialPort).set({ server: parts.serverName }).where(isNull(serialPort.server))
    await door.look()
    return door
  }

  /** Looks again which lines there are, and whose. */
  async look(): Promise<void> {
    const rows = await this.#parts.database.select().from(serialPort)
    this.#elsewhere.clear()
    for (const { deviceId, server, ...stated } of rows) {
      if (server !== this.#parts.serverName)
        this.#elsewhere.set(deviceId, { ...stated, server: server ?? '' })
      else if (!this.#listeners.has(deviceId)) this.#listen(deviceId, stated)
    }
    const own = new Set(rows.flatMap((row) => (this.#elsewhere.has(row.deviceId) ? [] : [row.deviceId])))
    for (const deviceId of [...this.#listeners.keys()]) if (!own.has(deviceId)) await this.#letGo(deviceId)
  }

  /** The line of a device, and how it is doing; null when it has none. */
  lineOf(deviceId: number): SerialLine | null {
    const elsewhere = this.#elsewhere.get(deviceId)
    if (elsewhere) {
      const { server, path, speed, csvHeader } = elsewhere
      const says = `The server "${server}" listens to ${path} on its machine.`
      return { path, speed, csvHeader, state: 'elsewhere', says, pausedUntil: null }
    }
    const listener = this.#listeners.get(deviceId)
    if (!listener) return null
    const { stated, state, reason, pausedUntil } = listener
    return { ...stated, state, says: wordsFor(state, stated, reason), pausedUntil }
  }

  /** Writes a device what waits for it, where it is on a cable to this machine. */
  sendCommands(deviceId: number): void {
    this.#listeners.get(deviceId)?.sendCommands(false)
  }

  /** Writes a device by what it guards, where it asked for that. */
  sendLimits(deviceId: number): void {
    this.#listeners.get(deviceId)?.sendLimits()
  }

  /** Says a word, an empty line, to each board that can be told something: it goes safe when it hears none. */
  greet(): void {
    for (const [deviceId, listener] of this.#listeners) {
      const signals = this.#parts.registry.byId(deviceId)?.signals ?? []
      if ([...signals].some(({ definition }) => definition.origin === 'controlled')) listener.write('\n')
    }
  }

  /** Listens to a port for a device from now on. @throws when another device has it */
  async set(deviceId: number, stated: Stated): Promise<void> {
    await this.#parts.database
      .insert(serialPort)
      .values({ deviceId, server: this.#parts.serverName, ...stated })
      .onConflictDoUpdate({
        target: serialPort.deviceId,
        set: { server: this.#parts.serverName, ...stated },
      })
    this.#elsewhere.delete(deviceId)
    await this.#letGo(deviceId)
    this.#listen(deviceId, stated)
    this.#parts.linesChanged()
  }

  /**
   * Lets another program have a port for a while.
   * @param ms 0 takes it up again now
   * @returns whether this server listens to it
   */
  async pause(deviceId: number, ms: number): Promise<boolean> {
    const listener = this.#listeners.get(deviceId)
    await listener?.pause(ms)
    return listener !== undefined
  }

  async remove(deviceId: number): Promise<void> {
    await this.#parts.database.delete(serialPort).where(eq(serialPort.deviceId, deviceId))
    this.#elsewhere.delete(deviceId)
    await this.#letGo(deviceId)
    this.#parts.linesChanged()
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
    case 'paused':
      return `${path} is let go of for a while, so that the board can be flashed.`
    case 'elsewhere':
      return `Another server listens to ${path}.`
    case 'failed':
      return `${path} could not be opened: ${reason}. It is tried again every second.`
  }
}
