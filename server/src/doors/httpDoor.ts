import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http'
import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'
import { type PartlyStored, problems } from '@jaunty-sparrow/contract'
import { type Credential, largestMessage, readCredential } from '@jaunty-sparrow/core'
import type { Logger } from 'pino'
import type { RefusalRecorder } from '../arrivals/recorder.ts'
import type { DeviceRegistry, RegisteredDevice } from '../ingest/deviceRegistry.ts'
import { Overloaded } from '../ingest/groupCommit.ts'
import type { Outcome, StraightWay } from '../ingest/straightWay.ts'
import type { Throttled } from '../ingest/throttle.ts'
import { matchesHash } from '../people/token.ts'
import { isStoreAway } from '../store/databaseError.ts'
import { ProblemError, sendProblem, storeAway } from './problemResponse.ts'

const largestBody = largestMessage
const largestUnpacked = 8 * largestBody

/** Of a long list of refusals the first ones tell the story. */
const mostRefusedListed = 100

interface HttpDoorParts {
  readonly registry: DeviceRegistry
  readonly straightWay: StraightWay
  readonly recorder: RefusalRecorder
  readonly now: () => number
  readonly log: Logger
}

/** Whether a request is for this door. */
export const isForDoor = ({ url = '' }: IncomingMessage): boolean => /^\/in(?:[/?]|$)/.test(url)

/**
 * The HTTP door for devices, `POST /in` and `POST /in/<field>`. A plain handler that is asked before the people's application: a board sends
 * every few seconds for years, and pays for nothing it does not use.
 */
export function httpDoor({ registry, straightWay, recorder, now, log }: HttpDoorParts): RequestListener {
  return async (request, response) => {
    const receivedAt = now()
    let device: RegisteredDevice | undefined
    try {
      if (request.method !== 'POST') {
        throw new ProblemError(
          'method-not-allowed',
          `Send readings with POST, not ${request.method}.`,
          {},
          { Allow: 'POST' },
        )
      }
      device = authenticate(request, registry)
      const body = await unpack(await readBody(request), request)
      const message = {
        door: 'http',
        mediaType: mediaType(request),
        tail: tailOf(request),
        topic: '',
        body,
        receivedAt,
      } as const
      answer(response, await straightWay.receive(device, message))
    } catch (error) {
      const problem = asProblem(error, log)
      // Not when the store is away: that is no fault of the message, and it will come again.
      if (problems[problem.kind].status < 500) {
        // Nobody has this address yet: what it sends is kept, a little of it, until somebody makes the device.
        const unclaimed = problem.kind === 'unknown-device'
        recorder.record({
          door: 'http',
          receivedAt,
          deviceId: device?.id ?? null,
          sender: device?.address ?? credentialOf(request.headers.authorization ?? '')?.address ?? '',
          mediaType: mediaType(request),
          tail: unclaimed ? tailOf(request) : '',
          topic: '',
          body: unclaimed ? await readBody(request).catch(() => nothing) : nothing,
          outcome: unclaimed ? 'unclaimed' : 'refused',
          reason: device
            ? problem.message
            : `${problem.message} It came from ${request.socket.remoteAddress}.`,
        })
      }
      if (!response.headersSent && !response.destroyed) sendProblem(response, problem)
    }
  }
}

const nothing = new Uint8Array()

function answer(response: ServerResponse, outcome: Outcome): void {
  if (outcome.kind === 'throttled') sendThrottled(response, outcome)
  else if (outcome.kind === 'unclaimed') response.writeHead(204).end()
  else answerRead(response, outcome)
}

function answerRead(
  response: ServerResponse,
  outcome: Exclude<Outcome, { kind: 'throttled' | 'unclaimed' }>,
): void {
  const { refused } = outcome
  const listed = refused.slice(0, mostRefusedListed)
  if (outcome.kind === 'refused') {
    sendProblem(
      response,
      new ProblemError(outcome.problem, outcome.detail, refused.length > 0 ? { refused: listed } : {}),
    )
  } else if (refused.length === 0) response.writeHead(204).end()
  else sendPartlyStored(response, { stored: outcome.stored, refused: listed, refusedTotal: refused.length })
}

function sendThrottled(response: ServerResponse, { reason, retryAfter }: Throttled): void {
  const detail = `${reason} Its owner can raise the limit on the page of the device.`
  sendProblem(
    response,
    retryAfter === null
      ? new ProblemError('too-large', detail)
      : new ProblemError('throttled', detail, {}, { 'Retry-After': String(retryAfter) }),
  )
}

function sendPartlyStored(response: ServerResponse, body: PartlyStored): void {
  response.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(body))
}

function asProblem(error: unknown, log: Logger): ProblemError {
  if (error instanceof ProblemError) return error
  if (error instanceof Overloaded) {
    return new ProblemError(
      'overloaded',
      'More arrives than can be stored just now, so nothing of this was. Send it again in a few seconds.',
      {},
      { 'Retry-After': '5' },
    )
  }
  if (isStoreAway(error)) {
    log.warn({ err: error }, 'a message was turned away: the database is away')
    return storeAway()
  }
  log.error({ err: error }, 'a message could not be handled')
  return new ProblemError(
    'internal',
    'The server failed to handle this message; its log says why. Nothing of it was stored.',
  )
}

const mediaType = ({ headers, url = '' }: IncomingMessage): string =>
  (headers['content-type'] ?? '').split(';', 1)[0]?.trim().toLowerCase() ||
  (url.startsWith('/in/') ? 'text/plain' : 'application/json')

/** Who sends? `Authorization: Bearer <address>.<secret>`, or Basic with the address as user name. */
function authenticate({ headers }: IncomingMessage, registry: DeviceRegistry): RegisteredDevice {
  const credential = credentialOf(headers.authorization ?? '')
  if (!credential) {
    const detail = headers.authorization
      ? 'The Authorization header cannot be read; send "Authorization: Bearer <address>.<secret>".'
      : 'The request has no Authorization header; send "Authorization: Bearer <address>.<secret>".'
    throw new ProblemError('no-credential', detail, {}, challenge)
  }
  const device = registry.get(credential.address)
  if (!device) {
    throw new ProblemError(
      'unknown-device',
      `No device has the address "${credential.address.slice(0, 60)}" here; check its spelling, and whether the device was deleted.`,
      {},
      challenge,
    )
  }
  if (!matchesHash(credential.secret, device.secretHash)) {
    throw new ProblemError(
      'wrong-secret',
      `The secret is not the one of "${device.address}"; if it is lost, give the device a new one on its page.`,
      {},
      challenge,
    )
  }
  return device
}

const challenge = { 'WWW-Authenticate': 'Bearer realm="devices"' }

function credentialOf(authorization: string): Credential | undefined {
  const space = authorization.indexOf(' ')
  const scheme = authorization.slice(0, space).toLowerCase()
  const rest = authorization.slice(space + 1).trim()
  if (scheme === 'bearer') return readCredential(rest)
  if (scheme !== 'basic') return undefined
  const [address, ...secret] = Buffer.from(rest, 'base64').toString('utf8').split(':')
  return address && secret.length > 0 ? { address, secret: secret.join(':') } : undefined
}

/** The field a bare value is for: what stands behind `/in/`. */
function tailOf({ url = '' }: IncomingMessage): string {
  const path = url.split('?', 1)[0] ?? ''
  try {
    return decodeURIComponent(path.slice('/in/'.length))
  } catch {
    throw new ProblemError('invalid', `The path ${path.slice(0, 60)} is not percent-encoded rightly.`)
  }
}

/** Undoes `Content-Encoding: gzip`, within bounds: a small body may hold a huge one. */
async function unpack(body: Buffer, { headers }: IncomingMessage): Promise<Buffer> {
  const encoding = headers['content-encoding'] ?? 'identity'
  if (encoding === 'identity') return body
  if (encoding !== 'gzip') {
    throw new ProblemError(
      'unknown-media-type',
      `The content encoding "${encoding}" is not understood; send gzip, or none.`,
    )
  }
  try {
    return await gunzipWithin(body, { maxOutputLength: largestUnpacked })
  } catch (error) {
    const tooLarge =
      error instanceof RangeError || (error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE'
    throw tooLarge
      ? new ProblemError(
          'too-large',
          `Unpacked, the body is larger than ${largestUnpacked / 1024} KiB; send a backlog in several requests.`,
        )
      : new ProblemError('not-json', 'The body is said to be packed with gzip, and is not.')
  }
}

const gunzipWithin = promisify<Buffer, { maxOutputLength: number }, Buffer>(gunzip)

/** Reads the whole body, as long as it stays within bounds. */
function readBody(request: IncomingMessage): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = []
    let size = 0
    request.on('data', (chunk: Buffer) => {
      size += chunk.length
      if (size <= largestBody) return chunks.push(chunk)
      // What still comes is read and dropped, so that the sender gets to hear why.
      request.removeAllListeners('data').resume()
      reject(
        new ProblemError(
          'too-large',
          `The body is larger than ${largestBody / 1024} KiB; send a backlog in several requests.`,
        ),
      )
    })
    request.on('end', () => {
      resolve(chunks.length === 1 ? (chunks[0] as Buffer) : Buffer.concat(chunks))
    })
    request.on('error', reject)
  })
}
