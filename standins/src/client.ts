import type { BodyOf, Problem, ResponseOf, Route } from '@jaunty-sparrow/contract'
import { writeCredential } from '@jaunty-sparrow/core'

/** The server said no; `detail` says why. */
export class Refused extends Error {
  readonly status: number
  constructor(status: number, detail: string) {
    super(detail)
    this.status = status
  }
}

/** Talks to the people's API as a person's browser would: with a session cookie and its token. */
export class PersonClient {
  readonly #origin: string
  #cookie = ''
  #csrfToken = ''

  constructor(origin: string) {
    this.#origin = origin
  }

  async call<R extends Route>(route: R, body?: BodyOf<R>): Promise<ResponseOf<R>> {
    const response = await fetch(this.#origin + route.path, {
      method: route.method.toUpperCase(),
      headers: { 'Content-Type': 'application/json', Cookie: this.#cookie, 'X-CSRF-Token': this.#csrfToken },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
    const cookie = response.headers.getSetCookie()[0]
    if (cookie) this.#cookie = cookie.split(';', 1)[0] ?? ''
    const answer: unknown = response.status === 204 ? undefined : await response.json()
    if (!response.ok) throw new Refused(response.status, (answer as Problem).detail)
    if (answer && typeof answer === 'object' && 'csrfToken' in answer)
      this.#csrfToken = String(answer.csrfToken)
    return answer as ResponseOf<R>
  }
}

/** Sends messages as a board would: over HTTP, with its own credential. */
export class DeviceClient {
  readonly #url: string
  readonly #authorization: string

  constructor(origin: string, address: string, secret: string) {
    this.#url = `${origin}/in`
    this.#authorization = `Bearer ${writeCredential({ address, secret })}`
  }

  async send(message: unknown): Promise<void> {
    const response = await fetch(this.#url, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: this.#authorization },
      body: JSON.stringify(message),
    })
    const answer = await response.text()
    if (response.status !== 204) throw new Refused(response.status, answer)
  }
}
