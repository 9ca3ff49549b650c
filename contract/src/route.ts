import type { Static, TObject, TSchema } from '@sinclair/typebox'

/** Who may call a route: anyone at all, anyone signed in, or the owner only. */
export type RequiredRole = 'anyone' | 'viewer' | 'owner'

/** One route of the people's API: the single place where its path, role and shapes are stated. */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  /** Path with `{name}` for its parameters, as OpenAPI writes it. */
  readonly path: string
  readonly summary: string
  readonly role: RequiredRole
  readonly params?: TObject
  readonly query?: TObject
  readonly body?: TObject
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
// biome-ignore lint/suspicious/noConfusingVoidType: it stands in the return type of a handler that has nothing to say
export type ResponseOf<R extends Route> = R['response'] extends TSchema ? Static<R['response']> : void

/** The path of a route with its parameters filled in. */
export const pathTo = (route: Route, params: Readonly<Record<string, unknown>> = {}): string =>
  route.path.replaceAll(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(String(params[name])))

/** Keeps the literal types of a route, so that handlers and clients know its shapes. */
export const defineRoute = <const R extends Route>(route: R): R => route
