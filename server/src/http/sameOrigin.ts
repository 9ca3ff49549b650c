import type { IncomingMessage } from 'node:http'

/**
 * Whether a request that a browser sent comes from our own pages. A browser always states the origin of a WebSocket and
 * of a request that changes something; other programs do not, and they hold no cookie that could be misused.
 */
export function isSameOrigin({ headers }: IncomingMessage): boolean {
  if (headers.origin === undefined)
    return headers['sec-fetch-site'] === undefined || headers['sec-fetch-site'] === 'same-origin'
  return URL.canParse(headers.origin) && new URL(headers.origin).host === headers.host
}
