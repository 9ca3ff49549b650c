import type { IncomingMessage } from 'node:http'
import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'
import { largestMessage, unpacksTo } from '@jaunty-sparrow/core/device'
import { presentable } from '@jaunty-sparrow/core/text'
import { ProblemError } from '../http/problemResponse.ts'
import type { ByteBudget } from '../ingest/byteBudget.ts'
import { Overloaded } from '../ingest/groupCommit.ts'

/** What a stranger sends is read this far, bytes. */
const strangersBody = 4096

/** What one message takes of the budget until it is answered. */
export class Held {
  readonly #budget: ByteBudget
  owner = ''
  #bytes = 0

  constructor(budget: ByteBudget) {
    this.#budget = budget
  }

  /** @throws Overloaded where there is no room */
  more(bytes: number): void {
    if (!this.#budget.hold(this.owner, bytes)) throw new Overloaded('more is being read than fits in memory')
    this.#bytes += bytes
  }

  release(): void {
    this.#budget.release(this.owner, this.#bytes)
    this.#bytes = 0
  }
}

const packings = new Set(['gzip', 'x-gzip'])

/** Undoes `Content-Encoding: gzip`, within bounds: a small body may hold a huge one. */
export async function unpack(
  body: Buffer,
  { headers }: IncomingMessage,
  allowed: number,
  held: Held,
): Promise<Buffer> {
  const encoding = (headers['content-encoding'] ?? 'identity').trim().toLowerCase()
  if (encoding === 'identity') return body
  if (!packings.has(encoding)) {
    throw new ProblemError(
      'unknown-media-type',
      `The content encoding "${presentable(encoding, 60)}" is not understood; send gzip, or none.`,
    )
  }
  const largest = unpacksTo * allowed
  try {
    const unpacked = await gunzipWithin(body, { maxOutputLength: largest })
    held.more(unpacked.length)
    return unpacked
  } catch (error) {
    if (error instanceof Overloaded) throw error
    const tooLarge =
      error instanceof RangeError || (error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE'
    throw tooLarge
      ? new ProblemError(
          'too-large',
          `Unpacked, the body is larger than ${Math.floor(largest / 1024)} KiB; send a backlog in several requests.`,
        )
      : new ProblemError('not-json', 'The body is said to be packed with gzip, and is not.')
  }
}

const gunzipWithin = promisify<Buffer, { maxOutputLength: number }, Buffer>(gunzip)

/** Reads the whole body, as long as it stays within bounds and there is room. */
export function readBody(request: IncomingMessage, held: Held, allowed: number): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = []
    let size = 0
    const stop = (reason: Error) => {
      // What still comes is read and dropped, so that the sender gets to hear why.
      request.removeAllListeners('data').resume()
      reject(reason)
    }
    request.on('data', (chunk: Buffer) => {
      size += chunk.length
      if (size > Math.min(allowed, largestMessage)) {
        const largest = Math.min(allowed, largestMessage)
        const said = largest < 1024 ? `${largest} bytes` : `${Math.floor(largest / 1024)} KiB`
        stop(
          new ProblemError(
            'too-large',
            `The body is larger than ${said}, the allowance of this device; send a backlog in several requests, or packed with gzip.`,
          ),
        )
        return
      }
      try {
        held.more(chunk.length)
        chunks.push(chunk)
      } catch (error) {
        stop(error as Error)
      }
    })
    request.on('end', () => resolve(chunks.length === 1 ? (chunks[0] as Buffer) : Buffer.concat(chunks)))
    request.on('error', () => reject(new ProblemError('invalid', 'The request ended before its body did.')))
  })
}

/** The first bytes of a body, as far as they come; what comes behind is read and dropped. */
export function beginningOf(request: IncomingMessage): Promise<Uint8Array> {
  return new Promise((resolve) => {
    let beginning = Buffer.alloc(0)
    request.on('data', (chunk: Buffer) => {
      if (beginning.length < strangersBody)
        beginning = Buffer.concat([beginning, chunk]).subarray(0, strangersBody)
    })
    for (const event of ['end', 'error', 'close']) request.once(event, () => resolve(beginning))
    if (request.readableEnded || request.destroyed) resolve(beginning)
  })
}
