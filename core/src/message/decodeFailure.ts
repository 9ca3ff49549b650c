import type { FieldRecord } from './field.ts'

/** A body that could not be read at all, in words for whoever sent it. */
export interface DecodeFailure {
  readonly failure: string
}

/**
 * Turns the text or bytes of a message into records of fields. Pure; it never throws.
 * @param receivedAt when the message came in, epoch ms, for times that are told relative to it
 */
export type Decoder<Body> = (body: Body, receivedAt: number) => readonly FieldRecord[] | DecodeFailure

export const isFailure = (decoded: readonly FieldRecord[] | DecodeFailure): decoded is DecodeFailure =>
  'failure' in decoded
