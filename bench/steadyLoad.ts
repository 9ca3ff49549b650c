import { readFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { setTimeout as rest } from 'node:timers/promises'

const windows = 3
export const windowMs = 10_000

/** How long all cores together were busy since the start of the machine, s. */
function busySeconds(): number {
  const [user = 0, nice = 0, system = 0, _idle, _wait, irq = 0, softIrq = 0] = (
    readFileSync('/proc/stat', 'utf8').split('\n')[0] ?? ''
  )
    .split(/\s+/)
    .slice(1)
    .map(Number)
  return (user + nice + system + irq + softIrq) / 100
}

/** How busy the machine is, window by window, of 1. */
export async function shares(): Promise<number[]> {
  const found: number[] = []
  for (let n = 0; n < windows; n++) {
    const [before, began] = [busySeconds(), performance.now()]
    await rest(windowMs)
    found.push(((busySeconds() - before) * 1000) / (performance.now() - began) / cpus().length)
  }
  return found
}

/** Devices that speak on their beat, each so many times a second, whatever the server does. */
export class SteadyLoad {
  readonly #url: string
  readonly #tokens: readonly string[]
  readonly #fields: readonly string[]
  readonly #rate: number
  #timer: NodeJS.Timeout | undefined
  #turn = 0
  readonly #open = new Set<Promise<unknown>>()

  constructor(url: string, tokens: readonly string[], fields: readonly string[], rate: number) {
    this.#url = url
    this.#tokens = tokens
    this.#fields = fields
    this.#rate = rate
  }

  start(): void {
    // Each speaks in its turn, so that they do not all speak at once.
    this.#timer = setInterval(() => this.#speak(), 1000 / (this.#tokens.length * this.#rate))
  }

  async stop(): Promise<void> {
    clearInterval(this.#timer)
    await Promise.all(this.#open)
  }

  #speak(): void {
    const token = this.#tokens[this.#turn++ % this.#tokens.length] ?? ''
    const body = JSON.stringify(Object.fromEntries(this.#fields.map((name) => [name, Math.random() * 100])))
    const sent = fetch(`${this.#url}/in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
      body,
    })
      .then((answer) => {
        if (answer.status !== 204) throw new Error(`a reading was answered ${answer.status}`)
      })
      .finally(() => this.#open.delete(sent))
    this.#open.add(sent)
  }
}
