import { type Asked, requestTo } from './requestTo.ts'
import type { ResponseOf, Route } from './route.ts'

/** As much of `fetch` as is needed. */
type Fetch = (
  url: string,
  request: { method: string; headers: Record<string, string>; body?: string },
) => Promise<{
  readonly status: number
  readonly ok: boolean
  readonly headers: { getSetCookie(): string[]; get(name: string): string | null }
  text(): Promise<string>
  arrayBuffer(): Promise<ArrayBuffer>
}>

/** What a server answered. */
export interface Answer<T = unknown> {
  readonly status: number
  readonly body: T
  readonly headers: { get(name: string): string | null; getSetCookie(): string[] }
}

/** Speaks to the people's API outside of a browser: it keeps the session's cookie and its token, as a browser would. */
export class ApiClient {
  readonly origin: string
  readonly #fetch: Fetch
  cookie = ''
  csrfToken = ''

  constructor(origin: string, fetch: Fetch) {
    this.origin = origin
    this.#fetch = fetch
  }

  /** Asks a route. An answer that says no is an answer too. */
  async ask<R extends Route>(
    route: R,
    asked: Asked<R> = {},
    headers: Readonly<Record<string, string>> = {},
  ): Promise<Answer<ResponseOf<R>>> {
    const { method, path, body } = requestTo(route, asked)
    const response = await this.#fetch(this.origin + path, {
      method,
      headers: {
        'Content-Type': 'application/json',
        Cookie: this.cookie,
        'X-CSRF-Token': this.csrfToken,
        ...headers,
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
    const cookie = response.headers.getSetCookie()[0]
    if (cookie) this.cookie = cookie.split(';', 1)[0] ?? ''
    // What is no JSON, such as a picture, is told as the bytes it is.
    if (route.media && response.headers.get('Content-Type')?.startsWith(route.media)) {
      const bytes = new Uint8Array(await response.arrayBuffer())
      return { status: response.status, body: bytes as ResponseOf<R>, headers: response.headers }
    }
    const text = await response.text()
    const answer: unknown = text === '' ? undefined : JSON.parse(text)
    if (answer && typeof answer === 'object' && 'csrfToken' in answer)
      this.csrfToken = String(answer.csrfToken)
    return { status: response.status, body: answer as ResponseOf<R>, headers: response.headers }
  }
}
