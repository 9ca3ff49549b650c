import { createSocket, type RemoteInfo, type Socket } from 'node:dgram'
import { isIPv6 } from 'node:net'
import { problems } from '@jaunty-sparrow/contract'
import { readCredential } from '@jaunty-sparrow/core/device'
import { formats, tailOf } from '@jaunty-sparrow/core/message'
import { presentable } from '@jaunty-sparrow/core/text'
import { generate, type NamedOption, type Option, type ParsedPacket, parse } from 'coap-packet'
import { Overloaded } from '../ingest/groupCommit.ts'
import type { Outcome } from '../ingest/outcome.ts'
import { whyStoreAway } from '../store/databaseError.ts'
import { admit, type DoorKit, turnAway } from './doorKit.ts'

/** How long an answer is remembered, so that a message that comes again is not taken twice (RFC 7252, section 4.8.2), ms. */
const exchangeLifetime = 247_000
const mostRemembered = 100_000

/** Content-Formats by their numbers (RFC 7252, section 12.3; RFC 8428, section 12.3). */
const mediaTypes: ReadonlyMap<number, string> = new Map([
  [0, 'text/plain'],
  [50, 'application/json'],
  [60, 'application/cbor'],
  [110, 'application/senml+json'],
  [112, 'application/senml+cbor'],
])

/**
 * The options that are understood, by name; of others those with an odd number are critical, and a request with one is not
 * carried out (RFC 7252, section 5.4.1). One answer is as good as another here, so Accept is met by any.
 */
const understood = new Set([
  'Uri-Host',
  'Uri-Port',
  'Uri-Path',
  'Uri-Query',
  'Content-Format',
  'Accept',
  'If-None-Match',
])

/** The numbers of critical options that have names; of the others the number stands for the name. */
const criticalNames = new Set([
  'If-Match',
  'OSCORE',
  'Q-Block1',
  'Q-Block2',
  'Block1',
  'Block2',
  'Proxy-Uri',
  'Proxy-Scheme',
  'OCF-Accept-Content-Format-Version',
  'OCF-Content-Format-Version',
])

const isCritical = (name: string): boolean =>
  criticalNames.has(name) || (/^\d+$/.test(name) && Number(name) % 2 === 1)

/** What an answer says in words must fit a packet (RFC 7252, section 4.6). */
const longestPayload = 1024

interface CoapDoorParts
  extends Pick<DoorKit, 'registry' | 'straightWay' | 'recorder' | 'faults' | 'now' | 'log'> {
  /** The address it will listen on: it decides over the family. */
  readonly host: string
}

/** What is answered: a code, words for people, and when to come again. */
interface Answer {
  readonly code: string
  readonly says?: string
  readonly retryAfter?: number
}

/** The CoAP door (RFC 7252): `POST /in?key=<address>.<secret>` over UDP. 2.04 comes after the commit. */
export class CoapDoor {
  readonly #parts: CoapDoorParts
  readonly #socket: Socket
  /** The answers to what came lately, by sender and message id; one that is being worked on is waited for. */
  readonly #answers = new Map<string, { readonly at: number; readonly answer: Promise<Answer> }>()

  constructor(parts: CoapDoorParts) {
    this.#parts = parts
    this.#socket = createSocket(isIPv6(parts.host) ? 'udp6' : 'udp4')
    this.#socket.on(
      'message',
      parts.faults.guard('a CoAP message', (bytes: Buffer, from: RemoteInfo) => this.#receive(bytes, from)),
    )
    this.#socket.on('error', (error) => parts.log.warn({ err: error }, 'CoAP'))
  }

  /** @returns the port @throws EADDRINUSE and its like */
  listen(port: number, host: string): Promise<number> {
    return new Promise((resolve, reject) => {
      this.#socket.once('error', reject)
      this.#socket.bind(port, host, () => {
        this.#socket.off('error', reject)
        resolve(this.#socket.address().port)
      })
    })
  }

  close(): Promise<void> {
    return new Promise((closed) => this.#socket.close(() => closed()))
  }

  async #receive(bytes: Buffer, from: RemoteInfo): Promise<void> {
    // What says that it came from nowhere cannot be answered.
    const packet = from.port === 0 ? undefined : read(bytes)
    // What is no request is no concern of ours; a ping is an empty confirmable one, and is answered with a reset.
    if (!packet || packet.ack || packet.reset) return
    if (packet.code === '0.00')
      return this.#send(from, { messageId: packet.messageId, reset: true, code: '0.00' })
    const { code, says, retryAfter } = await this.#answerOnce(packet, from)
    const options: (Option | NamedOption)[] = []
    if (retryAfter !== undefined) options.push({ name: 'Max-Age', value: uint(retryAfter) })
    this.#send(from, {
      code,
      messageId: packet.messageId,
      token: packet.token,
      ack: packet.confirmable,
      confirmable: false,
      options,
      ...(says && { payload: Buffer.from(presentable(says, longestPayload)).subarray(0, longestPayload) }),
    })
  }

  #send(to: RemoteInfo, packet: Parameters<typeof generate>[0]): void {
    this.#socket.send(generate(packet), to.port, to.address, (error) => {
      if (error) this.#parts.log.debug({ err: error }, 'a CoAP answer could not be sent')
    })
  }

  /** A message that was sent again gets the answer of the first, whether it is there yet or not. */
  #answerOnce(packet: ParsedPacket, from: RemoteInfo): Promise<Answer> {
    const now = this.#parts.now()
    for (const [key, { at }] of this.#answers) {
      if (now - at < exchangeLifetime && this.#answers.size < mostRemembered) break
      this.#answers.delete(key)
    }
    const key = `${from.address} ${from.port} ${packet.messageId} ${packet.token.toString('hex')}`
    const known = this.#answers.get(key)
    if (known) return known.answer
    const answer = this.#answer(packet, from).catch((error: unknown): Answer => {
      const away = error instanceof Overloaded ? 'More arrives than can be stored' : whyStoreAway(error)
      if (!away) this.#parts.faults.note('the CoAP door', error)
      this.#parts.log.warn({ err: error }, 'a CoAP message was turned away: it could not be stored')
      this.#answers.delete(key)
      return { code: '5.03', says: `${away ?? 'The server failed'}. Send it again.`, retryAfter: 5 }
    })
    this.#answers.set(key, { at: now, answer })
    return answer
  }

  async #answer(packet: ParsedPacket, from: RemoteInfo): Promise<Answer> {
    const values = (name: string) =>
      packet.options.filter((option) => option.name === name).map(({ value }) => value)
    const unknown = packet.options.find(
      ({ name }) => isCritical(String(name)) && !understood.has(String(name)),
    )
    if (unknown && unknown.name !== 'Block1')
      return { code: '4.02', says: `The option ${unknown.name} is critical and not understood.` }
    const [root, ...segments] = values('Uri-Path').map(String)
    const tail = tailOf(segments)
    if (root !== 'in') return { code: '4.04', says: 'There is /in here, and nothing else.' }
    if (packet.code !== '0.02') return { code: '4.05', says: 'Send readings with POST.' }
    if (values('Block1').length > 0)
      return { code: '4.02', says: 'Blocks are not understood; send several messages.' }
    const query = new URLSearchParams(values('Uri-Query').map(String).join('&'))
    const [format] = values('Content-Format').map(number)
    // What has no number is stated by name: ?format=csv. Else it is found out.
    const named = query.get('format')
    const mediaType = named !== null ? formats.get(named) : format !== undefined ? mediaTypes.get(format) : ''
    if (mediaType === undefined)
      return {
        code: '4.15',
        says: `${named ?? `Content-Format ${format}`} is not understood; 50 is JSON, 110 SenML, or name one of ${[...formats.keys()].join(', ')} with ?format=.`,
      }
    const receivedAt = this.#parts.now()
    const credential = readCredential(query.get('key') ?? '')
    const admitted = credential ? admit(this.#parts, credential) : noCredential
    if ('problem' in admitted) {
      const { problem, reason: says } = admitted
      turnAway(this.#parts, 'coap', {
        receivedAt,
        deviceId: this.#parts.registry.get(credential?.address ?? '')?.id ?? null,
        sender: credential?.address ?? '',
        mediaType,
        tail,
        reason: `${says} It came from ${from.address}.`,
        // Nobody has this address yet: it is kept until somebody makes the device.
        ...(problem === 'unknown-device' && { body: packet.payload, outcome: 'unclaimed' as const }),
      })
      return { code: '4.01', says }
    }
    return told(
      await this.#parts.straightWay.receive(admitted, {
        door: 'coap',
        mediaType,
        tail,
        topic: '',
        body: packet.payload,
        receivedAt,
      }),
    )
  }
}

const noCredential = {
  problem: 'no-credential',
  reason: 'The query option key=<address>.<secret> is missing.',
} as const

/** The outcome as CoAP says it; 4.29 is of RFC 8516. */
function told(outcome: Outcome): Answer {
  switch (outcome.kind) {
    case 'throttled':
      return outcome.retryAfter === null
        ? { code: '4.13', says: outcome.reason }
        : { code: '4.29', says: outcome.reason, retryAfter: outcome.retryAfter }
    case 'refused':
      return { code: problems[outcome.problem].status === 415 ? '4.15' : '4.00', says: outcome.detail }
    case 'stored': {
      const [first] = outcome.refused
      return { code: '2.04', ...(first && { says: `${first.field}: ${first.reason}` }) }
    }
    case 'unclaimed':
      return { code: '2.04' }
  }
}

function read(bytes: Buffer): ParsedPacket | undefined {
  try {
    return parse(bytes)
  } catch {
    return undefined
  }
}

const number = (bytes: Buffer): number =>
  bytes.length === 0 ? 0 : bytes.readUIntBE(0, Math.min(6, bytes.length))

const uint = (value: number): Buffer => {
  const bytes = Buffer.alloc(4)
  bytes.writeUInt32BE(value)
  return bytes
}
