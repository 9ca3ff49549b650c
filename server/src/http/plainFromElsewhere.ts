import type { IncomingMessage, ServerResponse } from 'node:http'
import { TLSSocket } from 'node:tls'
import type { Reach } from '@jaunty-sparrow/contract'
import { isLoopback } from '@jaunty-sparrow/core/reach'
import { ProblemError, sendProblem } from './problemResponse.ts'

/**
 * Whether a request came over the network without TLS, so that others may have read it: neither through TLS of our own, nor
 * through that of a trusted proxy on this machine or the network, nor from this machine itself.
 * @param ip where it came from, by what trusted proxies say
 */
export function isPlainFromElsewhere({ socket, headers }: IncomingMessage, ip: string): boolean {
  if (socket instanceof TLSSocket || isLoopback(ip)) return false
  // Where the address differs from the socket's, a trusted proxy has spoken, and it says how it was asked.
  const isThroughProxy = ip !== socket.remoteAddress
  return !(isThroughProxy && headers['x-forwarded-proto'] === 'https')
}

/** What is said to whoever sends a secret without TLS where that is forbidden. */
export const unencrypted = ({ devices }: Reach): ProblemError =>
  new ProblemError(
    'not-encrypted',
    `Secrets are not taken without TLS here; use ${devices.url.startsWith('https:') ? devices.url : 'https'}. Whoever runs the server can allow it with PLAIN_SECRETS=true.`,
  )

export const refuseUnencrypted = (response: ServerResponse, reach: Reach): void =>
  sendProblem(response, unencrypted(reach))
