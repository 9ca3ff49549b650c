import { type BodyOf, type ParamsOf, pathTo, type Route } from '@jaunty-sparrow/contract'
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react'

let csrfToken = ''

/** The session's token against forged requests; it is told by the session itself and lives in memory only. */
export const rememberCsrfToken = (token: string): void => {
  csrfToken = token
}

const baseQuery = fetchBaseQuery({
  baseUrl: '/',
  prepareHeaders: (headers) => headers.set('X-CSRF-Token', csrfToken),
  validateStatus: (response) => response.ok,
  responseHandler: async (response) => {
    const text = await response.text()
    return text === '' ? null : JSON.parse(text)
  },
})

type Params<R extends Route> = ParamsOf<R> extends undefined ? Record<string, never> : ParamsOf<R>

/** Turns a route of the contract into a request. */
export function request<R extends Route>(route: R, params: Partial<Params<R>> = {}, body?: BodyOf<R>) {
  return {
    url: pathTo(route, params).slice(1),
    method: route.method.toUpperCase(),
    ...(body !== undefined && { body }),
  }
}

export type Changing<R extends Route> = Params<R> & { readonly body: BodyOf<R> }

/** The people's API as the pages ask it. Each feature adds its own questions. */
export const api = createApi({
  baseQuery,
  tagTypes: ['Session', 'Sites', 'Devices', 'Traces', 'Arrivals', 'Unclaimed', 'Claims', 'Replays'],
  endpoints: () => ({}),
})
