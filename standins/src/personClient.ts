import {
  type BodyOf,
  type ParamsOf,
  type Problem,
  pathTo,
  type ResponseOf,
  type Route,
} from '@jaunty-sparrow/contract'
import { Refused } from './refused.ts'

interface Call<R extends Route> {
  readonly params?: ParamsOf<R>
  readonly body?: BodyOf<R>
}

/** Talks to the people's API as a person's browser would: with a session cookie and its token. */
export class PersonClient {
  readonly #origin: string
  #cookie = ''
  #csrfToken = ''

  constructor(origin: string) {
    this.#origin = origin
  }

  async call<R extends Route>(route: R, { params, body }: Call<R> = {}): Promise<ResponseOf<R>> {
    const response = await fetch(this.#origin + pathTo(route, params), {
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
