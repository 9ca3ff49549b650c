import { matchTopic } from '@jaunty-sparrow/core/claim'
import { formats, guessMediaType, tailOf } from '@jaunty-sparrow/core/message'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import { largestHere } from '../ingest/decoding.ts'
import type { ReceivedMessage } from '../ingest/receivedMessage.ts'

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
 * What a device published, as the straight way takes it. A level right behind `in` that begins with a full stop states the
 * format, as in `in/.csv`; else it is found out.
 * @returns undefined when it is for others who listen, such as its presence
 */
export function mqttMessage(
  address: string,
  topic: string,
  body: Buffer,
  receivedAt: number,
): ReceivedMessage | undefined {
  const own = isBelow(address, topic)
  const [first, ...levels] = own ? topic.slice(`sparrow/${address}/`.length).split('/') : []
  if (own && first !== 'in') return undefined
  const stated = levels[0]?.startsWith('.') ? formats.get(levels[0].slice(1)) : undefined
  const tail = levels.length === 0 ? '' : tailOf(stated === undefined ? levels : levels.slice(1))
  // A large one is looked at where it is read, one that is not claimed when its field is known.
  const isLooked = own && body.length <= largestHere
  return {
    door: 'mqtt',
    mediaType: stated ?? (isLooked ? guessMediaType(body, tail) : ''),
    tail,
    topic: own ? '' : topic,
    body,
    receivedAt,
  }
}
