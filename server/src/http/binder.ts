import type { BodyOf, ParamsOf, Place, QueryOf, ResponseOf, Route } from '@jaunty-sparrow/contract'
import {
  type Access,
  mayAt,
  mayEverywhere,
  maySomewhere,
  type Role,
  scopeOf,
} from '@jaunty-sparrow/core/access'
import { Ajv, type ErrorObject } from 'ajv'
import addFormats from 'ajv-formats'
import type { Express, Request, Response } from 'express'
import { isLanguageTag } from './languageTag.ts'
import { ProblemError } from './problemResponse.ts'
import { isSameOrigin } from './sameOrigin.ts'
import type { Caller, FoundSession, Programs, Sessions } from './session.ts'
import { isTimeZone } from './timeZone.ts'

type CallerOf<R extends Route> = R['role'] extends 'anyone'
  ? FoundSession | undefined
  : R['role'] extends 'signed-in'
    ? FoundSession
    : Caller

/** What a handler is given: everything validated, and who asks. */
interface Call<R extends Route> {
  readonly params: ParamsOf<R>
  readonly query: QueryOf<R>
  readonly body: BodyOf<R>
  readonly caller: CallerOf<R>
  /** Asks who asks once more: a stream may outlive what allowed it. */
  readonly again: () => Promise<Caller | undefined>
  readonly request: Request
  readonly response: Response
}

type Handler<R extends Route> = (call: Call<R>) => Promise<ResponseOf<R>>

/** Finds out at which sites something is that a request names. */
export interface Places {
  /** @returns the sites; undefined where there is no such thing */
  find(
    at: Place,
    named: { readonly params: Record<string, unknown>; readonly query: Record<string, unknown> },
  ): Promise<readonly number[] | undefined>
}

const ajvFor = (coerceTypes: boolean): Ajv => {
  const ajv = new Ajv({ allErrors: true, coerceTypes, useDefaults: coerceTypes, strict: false })
  addFormats.default(ajv)
  return ajv.addFormat('time-zone', isTimeZone).addFormat('language-tag', isLanguageTag)
}
const strict = ajvFor(false)
const coercing = ajvFor(true)

interface BinderParts {
  readonly app: Express
  readonly sessions: Sessions
  readonly programs: Programs
  readonly places: Places
}

/** Binds routes of the contract to handlers: role, forgery check and validation come with the route and cannot be left out. */
export class Binder {
  readonly #parts: BinderParts

  constructor(parts: BinderParts) {
    this.#parts = parts
  }

  bind<R extends Route>(route: R, handler: Handler<R>): void {
    const check = {
      params: route.params && coercing.compile(route.params),
      query: route.query && coercing.compile(route.query),
      body: route.body && strict.compile(route.body),
    }
    const path = route.path.replaceAll(/\{(\w+)\}/g, ':$1')
    this.#parts.app[route.method](path, async (request, response) => {
      const caller = await this.#admit(route, request)
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
      if (caller) await this.#allow(route, caller, { params, query })
      response.set('Cache-Control', 'no-store')
      const again = () => this.#whoIs(request)
      const call = { params, query, body, caller, again, request, response } as unknown as Call<R>
      const result = await handler(call)
      if (route.streams) return
      response.status(route.status)
      // A tag that is still good is answered without the picture (RFC 9110, 13.1.2).
      if (route.media) response.type(route.media).send(Buffer.from(result as Uint8Array))
      else if (route.response) response.json(result)
      else response.end()
    })
  }

  /** Who asks; whether they may where they want to is asked when it is known where that is. */
  async #admit(route: Route, request: Request): Promise<Caller | undefined> {
    const token = bearerOf(request)
    if (token !== undefined && route.role !== 'anyone') return this.#admitProgram(route, token)
    const changes = route.method !== 'get'
    if (changes && !isSameOrigin(request)) {
      throw new ProblemError(
        'foreign-request',
        'This request comes from a page of another site, so it was not carried out.',
      )
    }
    const session = await this.#parts.sessions.find(request.headers.cookie)
    if (route.role === 'anyone') return session
    if (!session) throw new ProblemError('not-signed-in', 'Sign in first; the session may have ended.')
    if (changes && request.get('X-CSRF-Token') !== session.csrfToken) {
      throw new ProblemError(
        'foreign-request',
        'The X-CSRF-Token of this session is missing or wrong; GET /api/session tells it.',
      )
    }
    return session
  }

  #whoIs(request: Request): Promise<Caller | undefined> {
    const token = bearerOf(request)
    return token === undefined
      ? this.#parts.sessions.find(request.headers.cookie)
      : this.#parts.programs.find(token)
  }

  async #admitProgram(route: Route, token: string): Promise<Caller> {
    const program = await this.#parts.programs.find(token)
    if (!program) {
      throw new ProblemError(
        'wrong-token',
        'This token is not known, was taken back, or has ended. Make a new one on the page of tokens.',
      )
    }
    if (route.role === 'signed-in' || route.forPeople)
      throw new ProblemError('not-allowed', 'This is for people who are signed in; no token opens it.')
    return program
  }

  async #allow(
    { role, at }: Route,
    caller: Caller,
    named: { params: Record<string, unknown>; query: Record<string, unknown> },
  ): Promise<void> {
    if (role === 'anyone' || role === 'signed-in' || at === undefined) return
    const { access } = caller
    if (at === 'everywhere') {
      if (!mayEverywhere(access, role)) throw notAllowed(caller, role, ' at all sites')
      return
    }
    if (!maySomewhere(access, role)) throw notAllowed(caller, role)
    const sites = await this.#parts.places.find(at, named)
    // What one may not see is not there; so that nobody learns by asking what there is.
    if (sites === undefined || !isSeen(at, sites, access))
      throw new ProblemError('not-found', missing[at](named))
    const isEnough = (siteId: number) => mayAt(access, role, siteId)
    const isAllowed =
      role === 'viewer' && at !== 'signals'
        ? sites.length === 0 || sites.some(isEnough)
        : sites.every(isEnough)
    if (!isAllowed)
      throw notAllowed(caller, role, sites.length > 1 ? ' at every site that this reaches' : ' at this site')
  }
}

/** What somebody may do who has no place that was asked for in the path: a handler asks when it knows. */
export function demand(caller: Caller, role: Role, siteId: number | undefined, what: string): void {
  if (siteId === undefined || !mayAt(caller.access, 'viewer', siteId))
    throw new ProblemError('not-found', what)
  if (!mayAt(caller.access, role, siteId)) throw notAllowed(caller, role, ' at this site')
}

const isSeen = (at: Place, sites: readonly number[], access: Access): boolean => {
  const sees = (siteId: number) => mayAt(access, 'viewer', siteId)
  return at === 'signals' ? sites.every(sees) : sites.length === 0 || sites.some(sees)
}

export function notAllowed({ token }: Caller, role: Role, where = ''): ProblemError {
  const needed =
    token === null
      ? `This needs the role of ${role}${where}.`
      : `This needs a token with the scope "${scopeOf[role]}"${where}, made by somebody with the role of ${role}${where}.`
  return new ProblemError('not-allowed', needed)
}

const none = (what: string) => () => `There is no such ${what}.`
/** What is said of something that is not there, or that one may not see. */
const missing: Record<
  Exclude<Place, 'everywhere'>,
  (named: { params: Record<string, unknown> }) => string
> = {
  site: none('site'),
  device: ({ params }) => `No device has the address "${params.address}".`,
  signal: none('signal'),
  signals: none('signal'),
  kit: none('kit'),
  definition: none('signal'),
  calibration: () => 'There is no such calibration, or it was taken back already.',
  claim: none('claim'),
  rereading: () => 'There is no such reading again, or it was undone already.',
  share: none('link'),
  dashboard: none('dashboard'),
  event: none('note'),
  rule: none('rule'),
  alarm: none('alarm'),
  way: none('way'),
  body: none('thing'),
  somewhere: none('thing'),
}

function bearerOf({ headers }: Request): string | undefined {
  const [scheme = '', token] = (headers.authorization ?? '').split(' ')
  return scheme.toLowerCase() === 'bearer' ? token : undefined
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
  if (keyword === 'format') return formats[params.format] ?? `must be a ${params.format}`
  return message ?? 'is not valid'
}

const formats: Readonly<Record<string, string>> = {
  'time-zone': 'must be an IANA time zone such as Europe/Dublin',
  'language-tag': 'must be a BCP 47 tag such as de-CH',
}
