import { type FieldRecord, quoteRaw, tailOf } from '../message/field.ts'
import { matchTopic } from './topicPattern.ts'

/**
 * Whose the messages of one key are: found by the topic they were published to, or by a field in each of their records.
 * `device` is an address; null when what is found there is the address itself.
 */
export type Claim =
  | {
      readonly by: 'topic'
      readonly pattern: string
      readonly device: string | null
      /** Where below the device the fields go, such as `roof`; empty for right below it. */
      readonly part: string
    }
  | {
      readonly by: 'field'
      readonly pointer: string
      /** What the field holds for this device; null when `device` is. */
      readonly value: string | null
      readonly device: string | null
    }

/** Finds whose a topic is. The first claim that fits counts. */
export function claimTopic(
  claims: readonly Claim[],
  topic: string,
): { readonly device: string; readonly tail: string } | undefined {
  for (const claim of claims) {
    if (claim.by !== 'topic') continue
    const match = matchTopic(claim.pattern, topic)
    const device = claim.device ?? match?.device
    if (match && device !== undefined)
      return { device, tail: tailOf([...claim.part.split('/'), ...match.tail.split('/')]) }
  }
  return undefined
}

/** A record of a message, and whose it is. */
export interface OwnedRecord {
  /** The address of its device; undefined for the key's own. */
  readonly device: string | undefined
  /** What the field that tells holds, where nobody has claimed that. */
  readonly unclaimed?: string
  readonly record: FieldRecord
}

/** Finds whose each record of a message is. The field that tells is no reading, so it is left out. */
export function ownRecords(claims: readonly Claim[], records: readonly FieldRecord[]): OwnedRecord[] {
  const byField = claims.filter((claim) => claim.by === 'field')
  return records.map((record) => {
    let unclaimed: string | undefined
    for (const { pointer, value, device } of byField) {
      const field = record.fields.find((candidate) => candidate.pointer === pointer)
      if (!field) continue
      const said = typeof field.value === 'string' ? field.value : quoteRaw(field.value)
      if (value !== null && value !== said) {
        unclaimed = said
        continue
      }
      const fields = record.fields.filter((other) => other !== field)
      return { device: device ?? said, record: { ...record, fields } }
    }
    return { device: undefined, ...(unclaimed !== undefined && { unclaimed }), record }
  })
}
