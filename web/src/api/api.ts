import {
  type Asked,
  type BodyOf,
  type ParamsOf,
  type QueryOf,
  type Route,
  requestTo,
} from '@jaunty-sparrow/contract'
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

/** Turns a route of the contract into what the pages ask with. */
export function request<R extends Route>(route: R, params?: Params<R>, body?: BodyOf<R>, query?: QueryOf<R>) {
  const asked = { params, body, query } as Asked<R>
  const { path, ...rest } = requestTo(route, asked)
  return { ...rest, url: path.slice(1) }
}

export type Changing<R extends Route> = Params<R> & { readonly body: BodyOf<R> }

/** The people's API as the pages ask it. Each feature adds its own questions. */
export const api = createApi({
  baseQuery,
  tagTypes: [
    'Session',
    'Commands',
    'Sites',
    'Devices',
    'Kits',
    'Traces',
    'SiteDay',
    'Arrivals',
    'Unclaimed',
    'Claims',
    'Rereadings',
    'Recomputations',
    'Condition',
    'People',
    'OwnSessions',
    'Invitations',
    'Tokens',
    'Links',
    'Alarms',
    'Notices',
    'Dashboards',
    'Notes',
    'Rules',
  ],
  endpoints: () => ({}),
})
