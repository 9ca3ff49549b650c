import { decodeCbor } from './decodeCbor.ts'
import { decodeCsv } from './decodeCsv.ts'
import type { DecodeFailure, Decoder } from './decodeFailure.ts'
import { decodeForm } from './decodeForm.ts'
import { decodeJson } from './decodeJson.ts'
import { decodePairs, pairsMediaType } from './decodePairs.ts'
import { decodePlain } from './decodePlain.ts'
import { decodeSenmlCbor, decodeSenmlJson } from './decodeSenml.ts'
import type { FieldRecord } from './field.ts'
import { guessMediaType } from './guessMediaType.ts'

/** What a device sent, byte for byte, with what its door knows of it. */
export interface Message {
  /** How to read the body, without parameters, in lower case; empty where nothing told, and it has to be found out. */
  readonly mediaType: string
  readonly body: Uint8Array
  /** Where it was sent to below the device's own address, such as `probes/top`, as `tailOf` writes it: the beginning of each field's pointer. */
  readonly tail?: string
}

const ofText =
  (decoder: Decoder<string>): Decoder<Uint8Array> =>
  (bytes, receivedAt) => {
    let text: string
    try {
      text = utf8.decode(bytes)
    } catch {
      return {
        failure:
          'The body is not UTF-8 text; check the encoding, or send the content type of a binary format.',
      }
    }
    return decoder(text, receivedAt)
  }

const utf8 = new TextDecoder('utf-8', { fatal: true })

const decoders: ReadonlyMap<string, Decoder<Uint8Array>> = new Map([
  ['application/json', ofText(decodeJson)],
  ['application/senml+json', ofText(decodeSenmlJson)],
  ['application/senml+cbor', decodeSenmlCbor],
  ['application/cbor', decodeCbor],
  ['application/x-www-form-urlencoded', ofText(decodeForm)],
  ['text/csv', ofText(decodeCsv)],
  [pairsMediaType, ofText(decodePairs)],
  ['text/plain', ofText(decodePlain)],
])

/** The media types that can be decoded. */
export const mediaTypes: readonly string[] = [...decoders.keys()]

/**
 * The first step of the straight way.
 * @param receivedAt when the message came in, epoch ms
 * @returns undefined when nobody reads this media type
 */
export function decode(
  { mediaType, body, tail = '' }: Message,
  receivedAt: number,
): readonly FieldRecord[] | DecodeFailure | undefined {
  const decoder = decoders.get(mediaTypeOf({ mediaType, body, tail }))
  const decoded = decoder?.(body, receivedAt)
  if (!decoded || 'failure' in decoded) return decoded
  const prefix = tail === '' ? '' : `/${tail}`
  if (prefix === '' && decoder === decoders.get('text/plain')) {
    return { failure: 'A bare value needs a field: send it to /in/<field>, such as /in/temperature.' }
  }
  if (prefix === '') return decoded
  return decoded.map((record) => ({
    ...record,
    fields: record.fields.map((field) => ({ ...field, pointer: prefix + field.pointer })),
  }))
}

/** How a message is read: as it says, or else as it looks. */
export function mediaTypeOf({ mediaType, body, tail = '' }: Message): string {
  if (mediaType === '') return guessMediaType(body, tail)
  return tail !== '' && isBareForm(mediaType, body) ? 'text/plain' : mediaType
}

const equalsSign = 0x3d

/** Tools that post a form by default also do so when all they were given is a bare value. */
const isBareForm = (mediaType: string, body: Uint8Array): boolean =>
  mediaType === 'application/x-www-form-urlencoded' && !body.includes(equalsSign)
