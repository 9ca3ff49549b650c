import { type DecodeFailure, decodeJson } from './decodeJson.ts'
import type { FieldRecord } from './field.ts'

/** What a device sent, as text, with the media type that says how to read it. */
export interface Message {
  readonly mediaType: string
  readonly body: string
}

const decoders: ReadonlyMap<string, (body: string) => readonly FieldRecord[] | DecodeFailure> = new Map([
  ['application/json', decodeJson],
])

/** The media types that can be decoded. */
export const mediaTypes: readonly string[] = [...decoders.keys()]

/** The first step of the straight way. @returns undefined when nobody reads this media type */
export const decode = ({ mediaType, body }: Message): readonly FieldRecord[] | DecodeFailure | undefined =>
  decoders.get(mediaType)?.(body)
