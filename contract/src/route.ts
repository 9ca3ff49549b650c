import type { Role } from '@jaunty-sparrow/core/access'
import type { Static, TObject, TSchema } from '@sinclair/typebox'

/** Who may call a route: anyone at all, any person who is signed in, or whoever has at least this role where it is needed. */
export type RequiredRole = 'anyone' | 'signed-in' | Role

/**
 * Where the role is needed: at the site that the path names, or the one of what it names; at every site that a kit reaches, to
 * change it, and at any of them to look; at any site at all, where the answer holds what is of one's sites; or at every site,
 * for what belongs to none. `body` is for what the request names in its body: there the handler asks.
 */
export type Place =
  | 'site'
  | 'device'
  | 'signal'
  | 'signals'
  | 'kit'
  | 'definition'
  | 'calibration'
  | 'claim'
  | 'rereading'
  | 'share'
  | 'dashboard'
  | 'event'
  | 'rule'
  | 'alarm'
  | 'way'
  | 'body'
  | 'somewhere'
  | 'everywhere'

/** One route of the people's API: the single place where its path, role and shapes are stated. */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  /** Path with `{name}` for its parameters, as OpenAPI writes it. */
  readonly path: string
  readonly summary: string
  readonly role: RequiredRole
  /** Absent where the role is that of nobody in particular. */
  readonly at?: Place
  /** Whether it is for people only, and no program gets at it with a token. */
  readonly forPeople?: true
  readonly params?: TObject
  readonly query?: TObject
  readonly body?: TObject
  /** Whether the answer is a stream of events (WHATWG HTML, server-sent events) that goes on. */
  readonly streams?: true
  /** What the answer is, where it is no JSON. */
  readonly media?: string
  /** Absent when the answer is 204, no content. */
  readonly response?: TSchema
  readonly status: number
}

type Shape<R extends Route, K extends 'params' | 'query' | 'body'> = R[K] extends TSchema
  ? Static<R[K]>
  : undefined

export type ParamsOf<R extends Route> = Shape<R, 'params'>
export type QueryOf<R extends Route> = Shape<R, 'query'>
export type BodyOf<R extends Route> = Shape<R, 'body'>
export type ResponseOf<R extends Route> = R['media'] extends string
  ? Uint8Array
  : R['response'] extends TSchema
    ? Static<R['response']>
    : // biome-ignore lint/suspicious/noConfusingVoidType: it stands in the return type of a handler that has nothing to say
      void

/** The path of a route with its parameters filled in. */
export const pathTo = (route: Route, params: Readonly<Record<string, unknown>> = {}): string =>
  route.path.replaceAll(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(String(params[name])))

/** Keeps the literal types of a route, so that handlers and clients know its shapes. */
export const defineRoute = <const R extends Route>(route: R): R => route
