import { matchTopic, sniffMediaType } from '@jaunty-sparrow/core'
import type { RegisteredDevice } from '../ingest/deviceRegistry.ts'
import type { ReceivedMessage } from '../ingest/straightWay.ts'

/** Whether a topic lies in a device's own branch, which no wildcard before the branch may reach out of. */
export const isBelow = (address: string, topic: string): boolean =>
  address !== '' && topic.startsWith(`sparrow/${address}/`)

/** Whether a device may publish to a topic: in its own branch, and where its owner lets it. */
export const mayPublish = ({ address, reach }: RegisteredDevice, topic: string): boolean =>
  isBelow(address, topic) || isWithin(reach, topic)

/** What other devices listen to is out of reach: of another's branch only its way in may be published to. */
const isWithin = (reach: readonly string[], topic: string): boolean =>
  (!topic.startsWith('sparrow/') || topic.split('/')[2] === 'in') &&
  reach.some((filter) => matchTopic(filter, topic) !== undefined)

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
