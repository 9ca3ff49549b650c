import {
  type DecodeFailure,
  decode,
  type FieldRecord,
  type Message,
  mediaTypeOf,
} from '@jaunty-sparrow/core/message'

/** A message taken apart. */
export interface DecodedMessage {
  /** How it was read, where its door did not say. */
  readonly mediaType: string
  /** Undefined when nobody reads this media type. */
  readonly records: readonly FieldRecord[] | DecodeFailure | undefined
}

/** The first step of the straight way. @param receivedAt when the message came in, epoch ms */
export function decodeMessage(message: Message, receivedAt: number): DecodedMessage {
  const mediaType = mediaTypeOf(message)
  return { mediaType, records: decode({ ...message, mediaType }, receivedAt) }
}
