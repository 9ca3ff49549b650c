import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http'
import { type PartlyStored, problems } from '@jaunty-sparrow/contract'
import { commandFor, readAnswer } from '@jaunty-sparrow/core/command'
import { type Credential, readCredential } from '@jaunty-sparrow/core/device'
import { guessMediaType, tailOf } from '@jaunty-sparrow/core/message'
import { presentable } from '@jaunty-sparrow/core/text'
import isEmpty from 'lodash-es/isEmpty.js'
import type { BoardGuards } from '../alarms/boardGuards.ts'
import type { Commands } from '../commands/commands.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Throttled } from '../devices/throttle.ts'
import { nosniff, ProblemError, sendProblem, storeAway } from '../http/problemResponse.ts'
import { Overloaded } from '../ingest/groupCommit.ts'
import type { Outcome } from '../ingest/outcome.ts'
import type { ReceivedMessage } from '../ingest/receivedMessage.ts'
import type { ProgramTokens } from '../people/programTokens.ts'
import { whyStoreAway } from '../store/databaseError.ts'
import { admit, type DoorKit, turnAway } from './doorKit.ts'
import { beginningOf, Held, readBody, unpack } from './requestBody.ts'
import { isProgramToken, sentFor } from './sendingProgram.ts'

/** bytes */
const largestAnswer = 2048

/** Of a long list of refusals the first ones tell the story. */
const mostRefusedListed = 100

interface HttpDoorParts
  extends Pick<DoorKit, 'registry' | 'straightWay' | 'recorder' | 'budget' | 'faults' | 'now' | 'log'> {
  readonly programs: ProgramTokens
  readonly commands: Pick<Commands, 'takeWaiting' | 'answered'>
  readonly guards: Pick<BoardGuards, 'of'>
}

/** Whether a request is for this door. */
export const isForDoor = ({ url = '' }: IncomingMessage): boolean => /^\/(?:in|state)(?:[/?]|$)/.test(url)

/**
 * The HTTP door for devices, `POST /in` and `POST /in/<field>`. A plain handler that is asked before the people's application: a board sends
 * every few seconds for years, and pays for nothing it does not use.
 */
export function httpDoor(parts: HttpDoorParts): RequestListener {
  return parts.faults.guard('the HTTP door', async (request: IncomingMessage, response: ServerResponse) => {
    const receivedAt = parts.now()
    const held = new Held(parts.budget)
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
      device = await authenticate(request, parts)
      held.owner = device.address
      const tail = tailIn(request)
      const sent = await readBody(request, held, device.allowance.messageBytes)
      const body = await unpack(sent, request, device.allowance.messageBytes, held)
      const message = {
        door: 'http',
        mediaType: mediaType(request),
        tail,
        topic: '',
        body,
        receivedAt,
        wireBytes: sent.length,
      } as const
      if (isState(request)) return await takeState(response, parts, device, message)
      const outcome = await parts.straightWay.receive(device, message)
      answer(response, outcome, await askedFor(request, parts, device, outcome))
    } catch (error) {
      const problem = asProblem(error, parts)
      if (!response.headersSent && !response.destroyed) sendProblem(response, problem)
      // Not when the store is away: that is no fault of the message, and it will come again.
      if (problems[problem.kind].status < 500)
        await recordRefusal(request, problem, receivedAt, device, parts)
    } finally {
      held.release()
    }
  })
}

async function recordRefusal(
  request: IncomingMessage,
  problem: ProblemError,
  receivedAt: number,
  device: RegisteredDevice | undefined,
  kit: HttpDoorParts,
): Promise<void> {
  // Nobody has this address yet: what it sends is kept, a little of it, until somebody makes the device.
  const unclaimed = problem.kind === 'unknown-device'
  turnAway(kit, 'http', {
    receivedAt,
    deviceId: device?.id ?? null,
    sender: device?.address ?? credentialOf(request.headers.authorization ?? '')?.address ?? '',
    mediaType: mediaType(request),
    reason: device ? problem.message : `${problem.message} It came from ${request.socket.remoteAddress}.`,
    ...(unclaimed && {
      tail: rawTail(request),
      body: await beginningOf(request),
      outcome: 'unclaimed' as const,
    }),
  })
}

/** What a board asks for in the same breath. */
type AskedFor = Pick<PartlyStored, 'commands' | 'guard'>

/** A board that is awake for a moment asks for what waits, and by what it guards: `POST /in?commands&limits`. */
async function askedFor(
  { url = '' }: IncomingMessage,
  { commands, guards }: HttpDoorParts,
  { id }: RegisteredDevice,
  { kind }: Outcome,
): Promise<AskedFor> {
  const asked = new URLSearchParams(url.split('?')[1])
  if (kind === 'throttled' || kind === 'refused') return {}
  const waiting = asked.has('commands') ? await commands.takeWaiting(id, true) : undefined
  const guard = asked.has('limits') ? JSON.parse(guards.of(id) ?? noGuard) : undefined
  return {
    ...(waiting && {
      commands: waiting.map(({ command, signal, name }) => commandFor(name, command, signal.definition.kind)),
    }),
    ...(guard && { guard }),
  }
}

const noGuard = JSON.stringify({ limits: {}, alarm: null })

const isState = ({ url = '' }: IncomingMessage): boolean => url.startsWith('/state')

/** What a device says of a controlled signal, `POST /state/<signal>`: the value is a message of its field, the answer is for the command. */
async function takeState(
  response: ServerResponse,
  { commands, straightWay }: HttpDoorParts,
  device: RegisteredDevice,
  message: ReceivedMessage,
): Promise<void> {
  if (message.body.length > largestAnswer)
    throw new ProblemError('too-large', `What a device says of a signal has at most ${largestAnswer} bytes.`)
  const throttled = await straightWay.admit(device, message)
  if (throttled) return sendThrottled(response, throttled)
  const { id, says, why, value } = readAnswer(Buffer.from(message.body).toString('utf8'))
  const body = Buffer.from(JSON.stringify(value ?? null))
  // The value is known before the command is confirmed.
  const outcome =
    value === undefined
      ? undefined
      : await straightWay.receive(device, {
          ...message,
          mediaType: guessMediaType(body, message.tail),
          body,
          admitted: true,
        })
  if (id !== undefined && says) await commands.answered(device.id, id, says, why)
  if (outcome) answer(response, outcome)
  else response.writeHead(204, nosniff).end()
}

function answer(response: ServerResponse, outcome: Outcome, asked: AskedFor = {}): void {
  if (outcome.kind === 'throttled') sendThrottled(response, outcome)
  else if (outcome.kind === 'unclaimed') response.writeHead(204, nosniff).end()
  else answerRead(response, outcome, asked)
}

function answerRead(
  response: ServerResponse,
  outcome: Exclude<Outcome, { kind: 'throttled' | 'unclaimed' }>,
  asked: AskedFor,
): void {
  const { refused } = outcome
  const listed = refused.slice(0, mostRefusedListed)
  if (outcome.kind === 'refused') {
    sendProblem(
      response,
      new ProblemError(outcome.problem, outcome.detail, refused.length > 0 ? { refused: listed } : {}),
    )
  } else if (refused.length === 0 && isEmpty(asked)) response.writeHead(204, nosniff).end()
  else
    sendPartlyStored(response, {
      stored: outcome.stored,
      refused: listed,
      refusedTotal: refused.length,
      ...asked,
    })
}

function sendThrottled(response: ServerResponse, { reason, retryAfter }: Throttled): void {
  const detail = `${reason} Its owner can raise the allowance on the page of the device.`
  sendProblem(
    response,
    retryAfter === null
      ? new ProblemError('too-large', detail)
      : new ProblemError('throttled', detail, {}, { 'Retry-After': String(retryAfter) }),
  )
}

function sendPartlyStored(response: ServerResponse, body: PartlyStored): void {
  response.writeHead(200, { ...nosniff, 'Content-Type': 'application/json' }).end(JSON.stringify(body))
}

function asProblem(error: unknown, { log, faults }: HttpDoorParts): ProblemError {
  if (error instanceof ProblemError) return error
  if (error instanceof Overloaded) {
    return new ProblemError(
      'overloaded',
      'More arrives than can be stored just now, so nothing of this was. Send it again in a few seconds.',
      {},
      { 'Retry-After': '5' },
    )
  }
  const away = whyStoreAway(error)
  if (away) {
    log.warn({ err: error }, 'a message was turned away: the database is away')
    return storeAway(away)
  }
  faults.note('the HTTP door', error)
  return new ProblemError(
    'internal',
    'The server failed to handle this message; its log says why. Nothing of it was stored.',
  )
}

/** A body without a content type is JSON, or behind a field a bare value. */
const mediaType = ({ headers, url = '' }: IncomingMessage): string =>
  (headers['content-type'] ?? '').split(';', 1)[0]?.trim().toLowerCase() ||
  (url.startsWith('/in/') ? 'text/plain' : 'application/json')

/**
 * Who sends? `Authorization: Bearer <address>.<secret>`, or Basic with the address as user name; a program sends with its token
 * and names the device.
 */
async function authenticate(request: IncomingMessage, parts: HttpDoorParts): Promise<RegisteredDevice> {
  const { headers, url = '' } = request
  const bearer = bearerOf(headers.authorization ?? '')
  if (bearer !== undefined && isProgramToken(bearer)) return sentFor(parts, bearer, url)
  const credential = credentialOf(headers.authorization ?? '')
  if (!credential) {
    const detail = headers.authorization
      ? 'The Authorization header cannot be read; send "Authorization: Bearer <address>.<secret>".'
      : 'The request has no Authorization header; send "Authorization: Bearer <address>.<secret>".'
    throw new ProblemError('no-credential', detail, {}, challenge)
  }
  const admitted = admit(parts, credential)
  if (!('problem' in admitted)) return admitted
  throw new ProblemError(admitted.problem, `${admitted.reason} ${advice[admitted.problem]}`, {}, challenge)
}

const advice = {
  'unknown-device': 'Check its spelling, and whether the device was deleted.',
  'wrong-secret': 'If it is lost, give the device a new one on its page.',
  retired: 'Take it back into service on its page, or switch the board off.',
}
const challenge = { 'WWW-Authenticate': 'Bearer realm="devices"' }

function credentialOf(authorization: string): Credential | undefined {
  const bearer = bearerOf(authorization)
  if (bearer !== undefined) return readCredential(bearer)
  const [scheme = '', rest = ''] = authorization.split(' ', 2)
  if (scheme.toLowerCase() !== 'basic') return undefined
  const [address, ...secret] = Buffer.from(rest, 'base64').toString('utf8').split(':')
  return address && secret.length > 0 ? { address, secret: secret.join(':') } : undefined
}

const bearerOf = (authorization: string): string | undefined =>
  /^bearer /i.test(authorization) ? authorization.slice('bearer '.length).trim() : undefined

const rawTail = ({ url = '' }: IncomingMessage): string =>
  (url.split('?', 1)[0] ?? '').replace(/^\/(?:in|state)\/?/, '')

/** Where below its address a message was sent to: what stands behind `/in/`. */
function tailIn(request: IncomingMessage): string {
  try {
    const tail = rawTail(request)
    return tail === '' ? '' : tailOf(tail.split('/').map(decodeURIComponent))
  } catch {
    throw new ProblemError(
      'invalid',
      `The path /in/${presentable(rawTail(request), 60)} is not percent-encoded rightly.`,
    )
  }
}
