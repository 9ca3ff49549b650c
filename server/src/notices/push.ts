import webPush from 'web-push'
import { answerOf } from './answerOf.ts'
import type { SendNotice } from './sendNotices.ts'
import type { VapidKeys } from './vapidKeys.ts'

/** So long a push service may take, ms. */
const patience = 10_000
/** So long it keeps what a browser is not there to take, s. */
const keptFor = 86_400

/** Whom a push service asks where something is wrong with pushes: a mailbox, else where the pages are, as far as that is over TLS. */
export function contactOf(mailFrom: string | undefined, origin: string): string {
  if (mailFrom !== undefined) return `mailto:${mailFrom}`
  return origin.startsWith('https://') ? origin : 'mailto:nobody@sparrow.invalid'
}

/** Sends notices to browsers: encrypted for each (RFC 8291), signed by this server (RFC 8292). */
export const pushSender =
  (keys: () => Promise<VapidKeys>, contact: () => string): SendNotice =>
  async ({ uuid, text }, { subscription }) => {
    if (!subscription) throw new Error('Nothing is known of where this browser is pushed to.')
    const { endpoint, method, headers, body } = webPush.generateRequestDetails(subscription, text, {
      vapidDetails: { subject: contact(), ...(await keys()) },
      TTL: keptFor,
      urgency: 'high',
      // Sent again, it takes the place of what is not fetched yet.
      topic: uuid.replaceAll('-', ''),
    })
    const response = await fetch(endpoint, {
      method,
      headers: headers as Record<string, string>,
      ...(body && { body: new Uint8Array(body) }),
      redirect: 'manual',
      signal: AbortSignal.timeout(patience),
    })
    const answer = await answerOf(response)
    if (response.status === 404 || response.status === 410)
      throw new Error(`The browser does not take pushes any more: delete this way. ${answer}`)
    if (!response.ok) throw new Error(answer)
    return answer
  }
