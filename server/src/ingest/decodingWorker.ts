import { parentPort } from 'node:worker_threads'
import type { Message } from '@jaunty-sparrow/core/message'
import { decodeMessage } from './decodeMessage.ts'

/** What is to be read, and when it came in, epoch ms. */
export interface DecodingJob {
  readonly message: Message
  readonly receivedAt: number
}

parentPort?.on('message', ({ message, receivedAt }: DecodingJob) => {
  parentPort?.postMessage(decodeMessage(message, receivedAt))
})
