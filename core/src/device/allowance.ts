/** How much one device may send. */
export interface Allowance {
  readonly messagesPerMinute: number
  readonly readingsPerMinute: number
  readonly messageBytes: number
  /** What its messages may take of the disk, as long as they are kept. */
  readonly bytesPerMinute: number
}

/** what a person has stated of it; null where the default holds. */
export type StatedAllowance = { readonly [K in Exclude<keyof Allowance, 'bytesPerMinute'>]: number | null }

/** However seldom a device speaks, while it is being built it speaks once a second. */
const fewestMessages = 60

/** Where nobody has said how often a device speaks, once a second is taken. */
const usualCadence = 1

/** A message of more readings than this is a backlog, and a backlog has a day's allowance to draw from. */
const readingsPerMessage = 20

/** A message that is larger is a backlog too. */
const bytesPerMessage = 1024

/** What no device may go beyond, whatever was stated: a message has to fit in memory, many at a time. */
export const largestMessage = 1024 * 1024

/**
 * What a device may send: what was stated, and else ten times what its cadence needs.
 * @param cadence stated seconds between messages, or null
 */
export function allowanceOf(stated: StatedAllowance, cadence: number | null): Allowance {
  const messages =
    stated.messagesPerMinute ?? Math.max(fewestMessages, Math.ceil(600 / (cadence ?? usualCadence)))
  return {
    messagesPerMinute: messages,
    readingsPerMinute: stated.readingsPerMinute ?? messages * readingsPerMessage,
    messageBytes: stated.messageBytes ?? largestMessage,
    bytesPerMinute: messages * bytesPerMessage,
  }
}

/** What packed messages may unpack to, by what they may have packed: backlogs repeat themselves. */
export const unpacksTo = 8
