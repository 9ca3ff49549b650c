import { type Credential, writeCredential } from '@jaunty-sparrow/core/device'
import type { PastMessage } from './history.ts'
import type { Line, Take } from './line.ts'
import type { ToldCommand } from './obedience.ts'
import { Refused } from './refused.ts'

/** Posts messages, several of them as a backlog. */
export class HttpLine implements Line {
  readonly #origin: string
  #take: Take | undefined
  readonly #authorization: string

  constructor(origin: string, credential: Credential) {
    this.#origin = origin
    this.#authorization = `Bearer ${writeCredential(credential)}`
  }

  async send(messages: readonly PastMessage[]): Promise<void> {
    const path = this.#take ? '/in?commands' : '/in'
    const response = await this.#post(path, messages.length === 1 ? messages[0] : messages)
    const answer = await response.text()
    if (response.status === 200 && this.#take) await this.#obey(JSON.parse(answer).commands ?? [], this.#take)
    else if (response.status !== 204) throw new Refused(response.status, answer)
  }

  /** It asks with each message what is wanted of it. */
  listen(take: Take): void {
    this.#take = take
  }

  async #obey(commands: readonly ToldCommand[], take: Take): Promise<void> {
    for (const command of commands) {
      const said = await take(command)
      if (said) await this.#post(`/state/${command.signal}`, said)
    }
  }

  #post(path: string, body: unknown): Promise<Response> {
    return fetch(this.#origin + path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: this.#authorization },
      body: JSON.stringify(body),
    })
  }

  close(): void {}
}
