import { type Credential, writeCredential } from '@jaunty-sparrow/core/device'
import type { PastMessage } from './history.ts'
import type { Line } from './line.ts'
import { Refused } from './refused.ts'

/** Posts messages, several of them as a backlog. */
export class HttpLine implements Line {
  readonly #url: string
  readonly #authorization: string

  constructor(origin: string, credential: Credential) {
    this.#url = `${origin}/in`
    this.#authorization = `Bearer ${writeCredential(credential)}`
  }

  async send(messages: readonly PastMessage[]): Promise<void> {
    const response = await fetch(this.#url, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: this.#authorization },
      body: JSON.stringify(messages.length === 1 ? messages[0] : messages),
    })
    const answer = await response.text()
    if (response.status !== 204) throw new Refused(response.status, answer)
  }

  close(): void {}
}
