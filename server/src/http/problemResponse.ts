import type { ServerResponse } from 'node:http'
import { type Problem, type ProblemKind, problems } from '@jaunty-sparrow/contract'

/** Something that is answered with an RFC 9457 problem. */
export class ProblemError extends Error {
  readonly kind: ProblemKind
  readonly extra: Pick<Problem, 'errors' | 'refused'>
  readonly headers: Readonly<Record<string, string>>

  constructor(
    kind: ProblemKind,
    detail: string,
    extra: Pick<Problem, 'errors' | 'refused'> = {},
    headers: Readonly<Record<string, string>> = {},
  ) {
    super(detail)
    this.kind = kind
    this.extra = extra
    this.headers = headers
  }
}

/** What to say while PostgreSQL takes nothing; trying again is right. @param reason why, as `whyStoreAway` says it */
export const storeAway = (reason: string): ProblemError =>
  new ProblemError(
    'store-away',
    `${reason}, so nothing was stored. Send the same again in a few seconds.`,
    {},
    { 'Retry-After': '5' },
  )

/** A browser must not take what a sender said, told back to it, for a page. */
export const nosniff = { 'X-Content-Type-Options': 'nosniff' } as const

export function sendProblem(response: ServerResponse, { kind, message, extra, headers }: ProblemError): void {
  const { status, title } = problems[kind]
  const body = { type: `/problems/${kind}`, title, status, detail: message, ...extra } satisfies Problem
  response.writeHead(status, { ...nosniff, ...headers, 'Content-Type': 'application/problem+json' })
  response.end(JSON.stringify(body))
}
