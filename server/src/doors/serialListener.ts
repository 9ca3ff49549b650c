import type { SerialLine, SerialState } from '@jaunty-sparrow/contract'
import { answerIn } from '@jaunty-sparrow/core/command'
import { largestMessage } from '@jaunty-sparrow/core/device'
import { looksGarbled, messageOfLine } from '@jaunty-sparrow/core/message'
import { SerialPort } from 'serialport'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Patience } from '../ingest/patience.ts'
import type { ReceivedMessage } from '../ingest/receivedMessage.ts'
import { type DoorKit, turnAway } from './doorKit.ts'
import type { SerialCommands } from './serialCommands.ts'

/** How long to wait before a port that could not be had, or was lost, is tried again, ms. */
const retryAfter = 1000

/** What may wait while the store is away, lines and bytes; beyond it the oldest are lost, and counted. */
const mostWaiting = { lines: 100_000, bytes: 32 * 1024 * 1024 }

/** Lines that are handed over at a time. */
const linesAtOnce = 64

/** The last bytes that are looked at to tell noise from text. */
const bytesLookedAt = 128

const lineFeed = 10

/** bytes */
const longestAnswer = 2048
/** A board that guards by itself asks so, when it starts. */
const asksForLimits = 'limits?'

export interface SerialListenerParts extends Omit<DoorKit, 'budget'> {
  /** Called when the line of a device begins or ceases to do well. */
  readonly changed: (deviceId: number) => void
  readonly commands: SerialCommands
  /** By what a board guards, as a line tells it. */
  readonly guardOf: (deviceId: number) => string
}

interface Line {
  readonly bytes: Buffer
  readonly receivedAt: number
}

/** A line that was let in at the port, as the straight way takes it. */
type Waiting = ReceivedMessage & { readonly admitted: true }

/** Listens to one port for one device. It opens the port, and opens it again whenever it was lost. */
export class SerialListener {
  readonly stated: Pick<SerialLine, 'path' | 'speed' | 'csvHeader'>
  state: SerialState = 'missing'
  /** What the system said when the port could not be opened. */
  reason = ''
  /** When it is taken up again by itself, epoch ms; null where it is not paused. */
  pausedUntil: number | null = null
  readonly #deviceId: number
  readonly #parts: SerialListenerParts
  readonly #waiting: Waiting[] = []
  #waitingBytes = 0
  #port: SerialPort | undefined
  #retry: NodeJS.Timeout | undefined
  #rest = Buffer.alloc(0)
  #seen = Buffer.alloc(0)
  #handing: Promise<void> | undefined
  #resting: Promise<boolean> | undefined
  #closed = false
  #lastAt = 0
  #wantsLimits = false

  constructor(deviceId: number, stated: SerialListener['stated'], parts: SerialListenerParts) {
    this.#deviceId = deviceId
    this.stated = stated
    this.#parts = parts
    this.#open()
  }

  async close(): Promise<void> {
    this.#closed = true
    await this.#letGo()
    await this.#handing
  }

  /** Writes what waits for the board. @param again whether it may have missed what was written before */
  sendCommands(again: boolean): void {
    this.#parts.faults.watch('a command on a cable', this.#parts.commands.send(this.#deviceId, this, again))
  }

  /** Writes by what the board guards, where it asked for that once. */
  sendLimits(): void {
    if (this.#wantsLimits) this.write(`${this.#parts.guardOf(this.#deviceId)}\n`)
  }

  /** Writes a line to the board. @returns whether there was a way to it */
  write(line: string): boolean {
    if (!this.isReached) return false
    this.#port?.write(line)
    return true
  }

  get isReached(): boolean {
    return this.#port?.isOpen === true && this.state === 'listening'
  }

  /** Lets another program have the port for a while. @param ms 0 takes it up again now */
  async pause(ms: number): Promise<void> {
    this.pausedUntil = this.#parts.now() + ms
    await this.#letGo()
    if (this.#closed) return
    this.#become('paused', '')
    // Another pause may have been asked for while the port was let go of.
    clearTimeout(this.#retry)
    this.#retry = setTimeout(() => {
      this.#retry = undefined
      this.pausedUntil = null
      this.#open()
    }, ms)
  }

  async #letGo(): Promise<void> {
    clearTimeout(this.#retry)
    this.#retry = undefined
    this.#rest = Buffer.alloc(0)
    const port = this.#port
    this.#port = undefined
    if (port?.isOpen) await new Promise<void>((done) => port.close(() => done()))
  }

  #open(): void {
    const { path, speed } = this.stated
    const port = new SerialPort({ path, baudRate: speed, autoOpen: false })
    this.#port = port
    port.on(
      'data',
      this.#parts.faults.guard('a serial line', (bytes: Buffer) => this.#read(bytes)),
    )
    // A pulled cable is told by a close that nobody asked for.
    port.on('close', () => this.#lost(port, 'missing', ''))
    port.on('error', (error) => this.#lost(port, 'failed', error.message))
    port.open((error) => {
      if (error) this.#lost(port, stateFor(error.message), error.message)
      else if (this.#port !== port) port.close(() => undefined)
      else {
        this.#become('listening', '')
        this.sendCommands(true)
      }
    })
  }

  #lost(port: SerialPort, state: SerialState, reason: string): void {
    if (this.#port !== port || this.#closed || this.#retry) return
    this.#rest = Buffer.alloc(0)
    this.#become(state, reason)
    this.#retry = setTimeout(() => {
      this.#retry = undefined
      this.#open()
    }, retryAfter)
  }

  #become(state: SerialState, reason: string): void {
    if (state === this.state && reason === this.reason) return
    this.state = state
    this.reason = reason
    this.#parts.changed(this.#deviceId)
  }

  #read(bytes: Buffer): void {
    this.#seen = Buffer.concat([this.#seen, bytes]).subarray(-bytesLookedAt)
    const garbled = looksGarbled(this.#seen)
    this.#become(garbled ? 'garbled' : 'listening', '')
    this.#rest = Buffer.concat([this.#rest, bytes])
    for (let end = this.#rest.indexOf(lineFeed); end >= 0; end = this.#rest.indexOf(lineFeed)) {
      const line = this.#rest.subarray(0, end)
      this.#rest = this.#rest.subarray(end + 1)
      this.#take({ bytes: line, receivedAt: this.#instantOf(this.#rest.length) }, garbled)
    }
    if (this.#rest.length > largestMessage) {
      const receivedAt = this.#parts.now()
      this.#refuse({ bytes: this.#rest.subarray(0, 1024), receivedAt }, 'The line does not end.')
      this.#rest = Buffer.alloc(0)
    }
  }

  /**
   * When a line came in. Many lines are read at once, and yet came one after the other: what came behind it took its time
   * on the wire, ten bits to a byte.
   */
  #instantOf(bytesBehind: number): number {
    const onTheWire = (bytesBehind * 10_000) / this.stated.speed
    this.#lastAt = Math.max(this.#lastAt + 1, Math.round(this.#parts.now() - onTheWire))
    return this.#lastAt
  }

  #take(line: Line, garbled: boolean): void {
    if (garbled) {
      this.#refuse(line, 'Most bytes of the line cannot be printed: the speed is likely wrong.')
      return
    }
    this.#parts.faults.watch('a serial line', this.#letIn(line))
  }

  /** A line is held to its allowance when it comes to the port, however long it has to wait for the store. */
  async #letIn({ bytes, receivedAt }: Line): Promise<void> {
    const device = this.#parts.registry.byId(this.#deviceId)
    const answer = bytes.length <= longestAnswer ? answerIn(bytes.toString('utf8').trim()) : undefined
    if (answer && device && !device.isRetired) {
      const sent = { door: 'serial', mediaType: '', tail: '', topic: '', body: bytes, receivedAt } as const
      if (await this.#parts.straightWay.admit(device, sent)) return
      return this.#parts.commands.answered(device, answer, receivedAt)
    }
    if (bytes.toString('latin1').trim() === asksForLimits) {
      this.#wantsLimits = true
      this.sendLimits()
      return
    }
    const message = messageOfLine(bytes, this.stated.csvHeader)
    if (!device || device.isRetired || !message) return
    const line = { ...message, door: 'serial', tail: '', topic: '', receivedAt, admitted: true } as const
    if (await this.#parts.straightWay.admit(device, line)) return
    this.#waiting.push(line)
    this.#waitingBytes += line.body.length
    while (this.#waiting.length > mostWaiting.lines || this.#waitingBytes > mostWaiting.bytes)
      this.#dropOldest(device)
    this.#handing ??= this.#handOver().finally(() => {
      this.#handing = undefined
    })
  }

  #dropOldest({ id }: RegisteredDevice): void {
    const oldest = this.#waiting.shift()
    if (!oldest) return
    this.#waitingBytes -= oldest.body.length
    const reason = `${this.stated.path}: the store was away for longer than lines fit in memory`
    this.#parts.drops.count(id, oldest.receivedAt, reason)
  }

  /** Hands lines over in their order; when the store is away, the same lines again until it is back. */
  async #handOver(): Promise<void> {
    while (this.#waiting.length > 0) {
      const lines = this.#waiting.slice(0, linesAtOnce)
      const handed = await Promise.allSettled(lines.map((line) => this.#hand(line)))
      // Only a listener that is closed gives up.
      if (this.#closed && handed.some(({ status }) => status === 'rejected')) return
      for (const [index, line] of lines.entries()) {
        if (this.#waiting[0] === line) this.#waitingBytes -= this.#waiting.shift()?.body.length ?? 0
        const outcome = handed[index]
        if (outcome?.status === 'rejected') this.#parts.faults.note('a serial line', outcome.reason)
      }
    }
  }

  /** Lines that could not be stored rest together. */
  readonly #patience: Patience = {
    tryAgain: (error) => {
      this.#resting ??= this.#rested(error).finally(() => {
        this.#resting = undefined
      })
      return this.#resting
    },
  }

  /** @returns whether the lines are tried again */
  async #rested(error: unknown): Promise<boolean> {
    this.#parts.log.warn({ err: error, path: this.stated.path }, 'lines wait: they could not be stored')
    if (!this.#closed) await new Promise((rest) => setTimeout(rest, retryAfter))
    return !this.#closed
  }

  async #hand(line: Waiting): Promise<void> {
    const device = this.#parts.registry.byId(this.#deviceId)
    if (device) await this.#parts.straightWay.receive(device, line, this.#patience)
  }

  #refuse({ bytes, receivedAt }: Line, reason: string): void {
    const device = this.#parts.registry.byId(this.#deviceId)
    if (!device) return
    turnAway(this.#parts, 'serial', {
      receivedAt,
      deviceId: device.id,
      sender: device.address,
      body: bytes,
      reason,
    })
  }
}

/** What the system says when a port cannot be opened. */
function stateFor(said: string): SerialState {
  if (/lock|busy|EBUSY|Access denied/i.test(said)) return 'busy'
  if (/ENOENT|No such|File not found|ENXIO|ENODEV/i.test(said)) return 'missing'
  if (/EACCES|Permission/i.test(said)) return 'denied'
  return 'failed'
}
