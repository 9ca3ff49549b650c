import { createHmac } from 'node:crypto'
import { answerOf } from './answerOf.ts'
import type { SendNotice } from './sendNotices.ts'

/** So long whoever is called may take, ms. */
const patience = 10_000

/**
 * What a webhook is signed with: HMAC-SHA-256 over its id, its time and its body, as Standard Webhooks has it.
 * @param secret base64
 * @param seconds of the epoch
 */
const signatureOf = (secret: string, id: string, seconds: number, body: string): string =>
  `v1,${createHmac('sha256', Buffer.from(secret, 'base64')).update(`${id}.${seconds}.${body}`).digest('base64')}`

/** Sends notices to a webhook. @param now epoch ms */
export const webhookSender =
  (now: () => number): SendNotice =>
  async ({ uuid, text }, { target, secret }) => {
    const seconds = Math.floor(now() / 1000)
    const response = await fetch(target, {
      method: 'POST',
      headers: {
        'Content-Type': 'application/json',
        'webhook-id': uuid,
        'webhook-timestamp': String(seconds),
        'webhook-signature': signatureOf(secret ?? '', uuid, seconds, text),
      },
      body: text,
      // Where it leads elsewhere, whoever stated it has to say so.
      redirect: 'manual',
      signal: AbortSignal.timeout(patience),
    })
    const answer = await answerOf(response)
    if (!response.ok) throw new Error(answer)
    return answer
  }
