/** How much one device may send. */
export interface DeviceLimits {
  readonly messagesPerMinute: number
  readonly readingsPerMinute: number
  readonly messageBytes: number
}

/** The limits a person has stated; null where the default holds. */
export type StatedLimits = { readonly [K in keyof DeviceLimits]: number | null }

/** However seldom a device speaks, while it is being built it speaks once a second. */
const fewestMessages = 60

/** Where nobody has said how often a device speaks, once a second is taken. */
const usualCadence = 1

/** A message of more readings than this is a backlog, and a backlog has a day's allowance to draw from. */
const readingsPerMessage = 20

/** What no device may go beyond, whatever was stated: a message has to fit in memory, many at a time. */
export const largestMessage = 1024 * 1024

/**
 * What a device may send: what was stated, and else ten times what its cadence needs.
 * @param cadence stated seconds between messages, or null
 */
export function limitsOf(stated: StatedLimits, cadence: number | null): DeviceLimits {
  const messages =
    stated.messagesPerMinute ?? Math.max(fewestMessages, Math.ceil(600 / (cadence ?? usualCadence)))
  return {
    messagesPerMinute: messages,
    readingsPerMinute: stated.readingsPerMinute ?? messages * readingsPerMessage,
    messageBytes: stated.messageBytes ?? largestMessage,
  }
}
