import { ApiClient, type Asked, type Problem, type ResponseOf, type Route } from '@jaunty-sparrow/contract'
import { Refused } from './refused.ts'

/** Talks to the people's API as a person's browser would. */
export class PersonClient {
  readonly #client: ApiClient

  constructor(origin: string) {
    this.#client = new ApiClient(origin, fetch)
  }

  /** @throws Refused when the server says no */
  async call<R extends Route>(route: R, asked: Asked<R> = {}): Promise<ResponseOf<R>> {
    const { status, body } = await this.#client.ask(route, asked)
    if (status >= 400) throw new Refused(status, (body as unknown as Problem).detail)
    return body
  }
}
