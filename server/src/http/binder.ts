import type { BodyOf, ParamsOf, QueryOf, ResponseOf, Route } from '@jaunty-sparrow/contract'
import { Ajv, type ErrorObject } from 'ajv'
import addFormats from 'ajv-formats'
import type { Express, Request, Response } from 'express'
import { ProblemError } from './problemResponse.ts'
import { isSameOrigin } from './sameOrigin.ts'
import type { FoundSession, Sessions } from './session.ts'
import { isTimeZone } from './timeZone.ts'

/** What a handler is given: everything validated, and the session when its route asks for one. */
interface Call<R extends Route> {
  readonly params: ParamsOf<R>
  readonly query: QueryOf<R>
  readonly body: BodyOf<R>
  readonly session: R['role'] extends 'anyone' ? FoundSession | undefined : FoundSession
  readonly request: Request
  readonly response: Response
}

type Handler<R extends Route> = (call: Call<R>) => Promise<ResponseOf<R>>

const ajvFor = (coerceTypes: boolean): Ajv => {
  const ajv = new Ajv({ allErrors: true, coerceTypes, strict: false })
  addFormats.default(ajv)
  return ajv.addFormat('time-zone', isTimeZone)
}
const strict = ajvFor(false)
const coercing = ajvFor(true)

/** Binds routes of the contract to handlers: role, forgery check and validation come with the route and cannot be left out. */
export class Binder {
  readonly #app: Express
  readonly #sessions: Sessions

  constructor(app: Express, sessions: Sessions) {
    this.#app = app
    this.#sessions = sessions
  }

  bind<R extends Route>(route: R, handler: Handler<R>): void {
    const check = {
      params: route.params && coercing.compile(route.params),
      query: route.query && coercing.compile(route.query),
      body: route.body && strict.compile(route.body),
    }
    this.#app[route.method](route.path.replaceAll(/\{(\w+)\}/g, ':$1'), async (request, response) => {
      const session = await this.#admit(route, request)
      const params = { ...request.params }
      const query = { ...request.query }
      const body: unknown = request.body ?? {}
      for (const [value, validate] of [
        [params, check.params],
        [query, check.query],
        [body, check.body],
      ] as const) {
        if (validate && !validate(value)) throw invalid(validate.errors ?? [])
      }
      const call = { params, query, body, session, request, response } as unknown as Call<R>
      const result = await handler(call)
      response.status(route.status)
      response.set('Cache-Control', 'no-store')
      if (route.response) response.json(result)
      else response.end()
    })
  }

  async #admit(route: Route, request: Request): Promise<FoundSession | undefined> {
    const changes = route.method !== 'get'
    if (changes && !isSameOrigin(request)) {
      throw new ProblemError(
        'foreign-request',
        'This request comes from a page of another site, so it was not carried out.',
      )
    }
    const session = await this.#sessions.find(request.headers.cookie)
    if (route.role === 'anyone') return session
    if (!session) throw new ProblemError('not-signed-in', 'Sign in first; the session may have ended.')
    if (route.role === 'owner' && session.person.role !== 'owner') {
      throw new ProblemError('not-allowed', 'This needs the role of owner.')
    }
    if (changes && request.get('X-CSRF-Token') !== session.csrfToken) {
      throw new ProblemError(
        'foreign-request',
        'The X-CSRF-Token of this session is missing or wrong; GET /api/session tells it.',
      )
    }
    return session
  }
}

function invalid(errors: readonly ErrorObject[]): ProblemError {
  const list = errors.map((error) => ({
    pointer:
      error.instancePath || `/${error.params.missingProperty ?? error.params.additionalProperty ?? ''}`,
    message: sentence(error),
  }))
  return new ProblemError(
    'invalid',
    `${list.map(({ pointer, message }) => `${pointer.slice(1) || 'The request'} ${message}`).join('; ')}.`,
    { errors: list },
  )
}

function sentence({ keyword, params, message }: ErrorObject): string {
  if (keyword === 'required') return 'is missing'
  if (keyword === 'additionalProperties') return 'is not known here'
  if (keyword === 'minLength')
    return params.limit === 1 ? 'must not be empty' : `must have at least ${params.limit} characters`
  if (keyword === 'maxLength') return `must have at most ${params.limit} characters`
  if (keyword === 'pattern')
    return params.pattern === '\\S' ? 'must not be blank' : `must look like ${params.pattern}`
  if (keyword === 'format')
    return params.format === 'time-zone'
      ? 'must be an IANA time zone such as Europe/Dublin'
      : `must be a ${params.format}`
  return message ?? 'is not valid'
}
