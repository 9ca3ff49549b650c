import { type BodyOf, type ParamsOf, pathTo, type QueryOf, type Route } from './route.ts'

/** What a route is asked with. */
export interface Asked<R extends Route> {
  readonly params?: ParamsOf<R>
  readonly query?: QueryOf<R>
  readonly body?: BodyOf<R>
}

/** A request as any HTTP client takes it; its path begins with a slash. */
export interface ApiRequest {
  readonly method: string
  readonly path: string
  /** JSON; undefined for none. */
  readonly body?: unknown
}

/** Turns a route of the contract, and what it is asked with, into a request. What is left out of a query stays out. */
export function requestTo<R extends Route>(route: R, { params, query, body }: Asked<R> = {}): ApiRequest {
  const search = Object.entries(query ?? {})
    .filter(([, value]) => value !== undefined && value !== '')
    .map(([name, value]) => `${name}=${encodeURIComponent(String(value))}`)
    .join('&')
  return {
    method: route.method.toUpperCase(),
    path: pathTo(route, params) + (search && `?${search}`),
    ...(body !== undefined && { body }),
  }
}
