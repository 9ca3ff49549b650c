import { createSocket, type RemoteInfo, type Socket } from 'node:dgram'
import { problems } from '@jaunty-sparrow/contract'
import { largestMessage, readCredential } from '@jaunty-sparrow/core'
import { generate, type NamedOption, type Option, type ParsedPacket, parse } from 'coap-packet'
import type { Logger } from 'pino'
import type { RefusalRecorder } from '../arrivals/recorder.ts'
import type { DeviceRegistry, RegisteredDevice } from '../ingest/deviceRegistry.ts'
import type { Outcome, StraightWay } from '../ingest/straightWay.ts'
import { matchesHash } from '../people/token.ts'

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

interface CoapDoorParts {
  readonly registry: DeviceRegistry
  readonly straightWay: StraightWay
  readonly recorder: RefusalRecorder
  readonly now: () => number
  readonly log: Logger
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
    this.#socket = createSocket('udp4')
    this.#socket.on('message', (bytes, from) => void this.#receive(bytes, from))
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
    const packet = read(bytes)
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
      ...(says && { payload: Buffer.from(says) }),
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
      this.#parts.log.warn({ err: error }, 'a CoAP message was turned away: it could not be stored')
      this.#answers.delete(key)
      return { code: '5.03', says: 'Nothing was stored just now. Send it again.', retryAfter: 5 }
    })
    this.#answers.set(key, { at: now, answer })
    return answer
  }

  async #answer(packet: ParsedPacket, from: RemoteInfo): Promise<Answer> {
    const values = (name: string) =>
      packet.options.filter((option) => option.name === name).map(({ value }) => value)
    const [root, ...tail] = values('Uri-Path').map(String)
    if (root !== 'in') return { code: '4.04', says: 'There is /in here, and nothing else.' }
    if (packet.code !== '0.02') return { code: '4.05', says: 'Send readings with POST.' }
    if (values('Block1').length > 0)
      return { code: '4.02', says: 'Blocks are not understood; send several messages.' }
    const query = new URLSearchParams(values('Uri-Query').map(String).join('&'))
    const [format] = values('Content-Format').map(number)
    const mediaType = mediaTypes.get(format ?? (tail.length > 0 ? 0 : 50))
    if (!mediaType)
      return { code: '4.15', says: `Content-Format ${format} is not understood; 50 is JSON, 110 SenML.` }
    const receivedAt = this.#parts.now()
    const credential = readCredential(query.get('key') ?? '')
    const device = this.#parts.registry.get(credential?.address ?? '')
    const reason = whyNot(device, credential)
    if (!device || reason) {
      const says = reason ?? ''
      this.#parts.recorder.record({
        door: 'coap',
        receivedAt,
        deviceId: device?.id ?? null,
        sender: credential?.address ?? '',
        mediaType,
        tail: tail.join('/'),
        topic: '',
        body: device ? new Uint8Array() : packet.payload,
        outcome: device || !credential ? 'refused' : 'unclaimed',
        reason: `${says} It came from ${from.address}.`,
      })
      return { code: '4.01', says }
    }
    return told(
      await this.#parts.straightWay.receive(device, {
        door: 'coap',
        mediaType,
        tail: tail.join('/'),
        topic: '',
        body: packet.payload.subarray(0, largestMessage),
        receivedAt,
      }),
    )
  }
}

function whyNot(
  device: RegisteredDevice | undefined,
  credential: { readonly address: string; readonly secret: string } | undefined,
): string | undefined {
  if (!credential) return 'The query option key=<address>.<secret> is missing.'
  if (!device) return `No device has the address "${credential.address.slice(0, 60)}" here.`
  return matchesHash(credential.secret, device.secretHash)
    ? undefined
    : `The secret is not the one of "${device.address}".`
}

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
