import { sniffMediaType } from '@jaunty-sparrow/core'
import type { ReceivedMessage } from '../ingest/straightWay.ts'

/** Whether a topic lies in a device's own branch, which no wildcard before the branch may reach out of. */
export const isBelow = (address: string, topic: string): boolean =>
  address !== '' && topic.startsWith(`sparrow/${address}/`)

/**
 * What a device published, as the straight way takes it.
 * @returns undefined when it is for others who listen, such as its presence
 */
export function mqttMessage(
  address: string,
  topic: string,
  body: Buffer,
  receivedAt: number,
): ReceivedMessage | undefined {
  const own = isBelow(address, topic)
  const below = own ? topic.slice(`sparrow/${address}/`.length) : ''
  if (own && below !== 'in' && !below.startsWith('in/')) return undefined
  return {
    door: 'mqtt',
    mediaType: sniffMediaType(body, body.toString('utf8', 0, 1024)),
    tail: below.slice('in/'.length),
    topic: own ? '' : topic,
    body,
    receivedAt,
  }
}
