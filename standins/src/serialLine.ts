import { type ChildProcess, spawn } from 'node:child_process'
import type { PastMessage } from './history.ts'
import type { Line } from './line.ts'

/** A board on a cable: a pseudo-terminal that stands for a serial port, made by socat. It has no clock, and says `key=value`. */
export class SerialLine implements Line {
  readonly #socat: ChildProcess

  /** @param port where the port appears */
  constructor(port: string) {
    this.#socat = spawn('socat', ['-u', '-', `PTY,link=${port},rawer`], {
      stdio: ['pipe', 'ignore', 'inherit'],
    })
  }

  async send(messages: readonly PastMessage[]): Promise<void> {
    const lines = messages.map(({ t: _, ...values }) =>
      Object.entries(values)
        .map(([key, value]) => `${key}=${value}`)
        .join(' '),
    )
    await new Promise<void>((written, failed) =>
      this.#socat.stdin?.write(`${lines.join('\r\n')}\r\n`, (error) => (error ? failed(error) : written())),
    )
  }

  close(): void {
    this.#socat.kill()
  }
}
