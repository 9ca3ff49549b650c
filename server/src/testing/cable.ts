import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { existsSync, watch } from 'node:fs'
import { type FileHandle, open } from 'node:fs/promises'
import { join } from 'node:path'

/** A cable made by socat: what is written into the board's end comes out at the port. */
export class Cable {
  readonly port: string
  readonly #folder: string
  readonly #boardEnd: string
  #socat: ChildProcess | undefined
  #board: FileHandle | undefined

  constructor(folder: string, name: string) {
    this.#folder = folder
    this.port = join(folder, name)
    this.#boardEnd = join(folder, `${name}-board`)
  }

  async plugIn(): Promise<void> {
    const there = new Promise<void>((resolve) => {
      const watcher = watch(this.#folder, () => {
        if (!existsSync(this.port) || !existsSync(this.#boardEnd)) return
        watcher.close()
        resolve()
      })
    })
    this.#socat = spawn('socat', [`PTY,link=${this.port},rawer`, `PTY,link=${this.#boardEnd},rawer`])
    await there
    this.#board = await open(this.#boardEnd, 'r+')
  }

  async print(text: string | Uint8Array): Promise<void> {
    await this.#board?.write(typeof text === 'string' ? Buffer.from(text) : text)
  }

  /** The next line that comes down to the board. */
  async hear(): Promise<string> {
    const byte = Buffer.alloc(1)
    let line = ''
    while (this.#board) {
      await this.#board.read(byte, 0, 1, null)
      if (byte[0] === 10) return line
      line += byte.toString('latin1')
    }
    throw new Error('the cable is not plugged in')
  }

  async pull(): Promise<void> {
    await this.#board?.close()
    const ended = this.#socat && once(this.#socat, 'exit')
    this.#socat?.kill()
    await ended
  }
}
